namespace Cenotic.Server.Ingest;

/// <summary>Keeps the scans of their buses that nodes send.</summary>
public interface IScanKeeper
{
    /// <summary>Keeps a scan as the node told it.</summary>
    /// <returns>Why it cannot be read; null when it was kept.</returns>
    Task<string?> KeepAsync(string site, string node, string text);
}
