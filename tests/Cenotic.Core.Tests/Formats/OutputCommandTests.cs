using System.Text;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

public class OutputCommandTests
{
    [Fact]
    public void It_is_read_as_it_was_written_and_is_the_text_that_the_docs_show()
    {
        var command = new OutputCommand(1790000012, "fan", true, 1_790_000_060_500, 600_000);
        Assert.Equal("""{"id":1790000012,"out":"fan","on":true,"expires":1790000060.5,"maxOn":600}""", Encoding.UTF8.GetString(command.Write()));
        Gen.Select(Gen.Long[0, 1L << 52], OneOf("fan", "siren-2"), Gen.Bool, Gen.Long[0, 4_000_000_000_000], Gen.Long[0, 86_400_000])
            .Sample(
                (id, output, on, expires, most) =>
                {
                    var one = new OutputCommand(id, output, on, expires, most);
                    Assert.Equal(one, OutputCommand.Read(one.Write()).Value);
                }
            );
    }

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("{\"id\":1}")]
    [InlineData("{\"id\":1.5,\"out\":\"fan\",\"on\":true,\"expires\":1,\"maxOn\":1}")]
    [InlineData("{\"id\":1,\"out\":null,\"on\":true,\"expires\":1,\"maxOn\":1}")]
    [InlineData("{\"id\":1,\"out\":\"fan\",\"on\":1,\"expires\":1,\"maxOn\":1}")]
    [InlineData("{\"id\":1,\"out\":\"fan\",\"on\":true,\"expires\":-1,\"maxOn\":1}")]
    [InlineData("{\"id\":1,\"out\":\"fan\",\"on\":true,\"expires\":1e300,\"maxOn\":1}")]
    public void What_is_no_command_is_refused(string text) => Assert.False(OutputCommand.Read(Encoding.UTF8.GetBytes(text)).Ok);

    [Fact]
    public void Damaged_bytes_never_throw()
    {
        var good = new OutputCommand(1790000012, "fan", true, 1_790_000_060_500, 600_000).Write();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte, Gen.Int[0, good.Length])
            .Sample(
                (at, with, length) =>
                {
                    var bytes = good[..length];
                    if (at < length)
                    {
                        bytes[at] = with;
                    }
                    _ = OutputCommand.Read(bytes).Ok;
                },
                iter: 10_000
            );
    }

    private static Gen<string> OneOf(params string[] of) => Gen.Int[0, of.Length - 1].Select(at => of[at]);
}
