namespace Cenotic.Server.Common;

/// <summary>A picture that is sent as the body of a request: no larger than it may be, and known by its first bytes.</summary>
public static class PictureBody
{
    /// <summary>Most bytes of a picture.</summary>
    public const int MostBytes = 1 << 20;

    /// <summary>The bytes and what they are, or a sentence why they are refused.</summary>
    public static async Task<(byte[] Bytes, string Type, string? Refused)> ReadAsync(HttpRequest request, CancellationToken stop)
    {
        // What says that it is too large is not read at all.
        if (request.ContentLength > MostBytes)
        {
            return ([], "", TooLarge);
        }
        var body = new byte[MostBytes + 1];
        var length = await request.Body.ReadAtLeastAsync(body, body.Length, throwOnEndOfStream: false, stop);
        return length > MostBytes ? ([], "", TooLarge)
            : TypeOf(body.AsSpan(0, length)) is { } type ? (body[..length], type, null)
            : ([], "", "That is no picture by its first bytes, whatever its name: a picture is a JPEG, PNG or WebP file.");
    }

    private static string TooLarge => $"A picture has at most {MostBytes / 1024} KiB.";

    /// <summary>What a file is by its first bytes; its name and what the sender says count for nothing.</summary>
    private static string? TypeOf(ReadOnlySpan<byte> body) =>
        body.StartsWith<byte>([0xFF, 0xD8, 0xFF]) ? "image/jpeg"
        : body.StartsWith<byte>([0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]) ? "image/png"
        : body.StartsWith("RIFF"u8) && body.Length > 12 && body[8..].StartsWith("WEBP"u8) ? "image/webp"
        : null;
}
