using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.Configuration;

namespace Cenotic.Server.Tests.Common;

public class SettingsTests
{
    private static Settings Read(params (string Name, string Value)[] set) =>
        Settings.Read(new ConfigurationBuilder().AddInMemoryCollection(set.ToDictionary(s => s.Name, s => (string?)s.Value)).Build());

    [Fact]
    public void Without_any_it_keeps_to_this_machine()
    {
        var settings = Read();
        Assert.Equal(("127.0.0.1:5080", "127.0.0.1:1883", false), (settings.Web.ToString(), settings.Broker.ToString(), settings.Demo));
        Assert.True(Path.IsPathRooted(settings.Data));
    }

    [Fact]
    public void It_runs_with_one_heap_beside_other_things_on_a_small_machine()
    {
        using var file = JsonDocument.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Cenotic.Server.runtimeconfig.json")));
        var set = file.RootElement.GetProperty("runtimeOptions").GetProperty("configProperties");
        Assert.False(set.GetProperty("System.GC.Server").GetBoolean());
    }

    [Theory]
    [InlineData("http://localhost:81", "127.0.0.1:81")]
    [InlineData("http://192.168.1.5:8080/", "192.168.1.5:8080")]
    [InlineData("[::1]:5080", "[::1]:5080")]
    public void Addresses_are_read_as_people_write_them(string text, string address) => Assert.Equal(address, Read(("WEB", text)).Web.ToString());

    [Fact]
    public void Https_works_with_a_certificate_and_without_one_says_what_to_set()
    {
        Assert.Contains(
            "set CENOTIC_CERTIFICATE and CENOTIC_CERTIFICATE_KEY",
            Assert.Throws<ArgumentException>(() => Read(("WEB", "https://127.0.0.1:5443"))).Message
        );
        var folder = Directory.CreateTempSubdirectory("cenotic-settings").FullName;
        using var key = RSA.Create(2048);
        using var certificate = new CertificateRequest("CN=127.0.0.1", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1).CreateSelfSigned(
            DateTimeOffset.UtcNow,
            DateTimeOffset.UtcNow.AddDays(1)
        );
        var file = Path.Combine(folder, "both.pem");
        File.WriteAllText(file, certificate.ExportCertificatePem() + "\n" + key.ExportPkcs8PrivateKeyPem());
        Assert.Equal("127.0.0.1:5443", Read(("WEB", "https://localhost:5443/"), ("CERTIFICATE", file)).Web.ToString());
        Assert.Contains("write https://", Assert.Throws<ArgumentException>(() => Read(("WEB", "http://127.0.0.1:5080"), ("CERTIFICATE", file))).Message);
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [InlineData("WEB", "nonsense")]
    [InlineData("WEB", "127.0.0.1")]
    [InlineData("BROKER", "broker.example:1883")]
    public void What_cannot_be_read_is_named_with_an_example(string name, string text)
    {
        var says = Assert.Throws<ArgumentException>(() => Read((name, text))).Message;
        Assert.Contains($"CENOTIC_{name}", says);
        Assert.Contains("write it like", says);
    }
}
