namespace Cenotic.Core.Formats;

/// <summary>A small program that sends one message, to begin from.</summary>
/// <param name="Language">shell, python or c.</param>
/// <param name="Needs">What the machine must have.</param>
public sealed record Snippet(string Language, string Title, string Needs, string Text);

/// <summary>
/// Programs that send a node's example message. The key is taken from the environment variable CENOTIC_KEY, so that it stands in no file. Keys of sites, nodes and readings are
/// letters, digits and hyphens: nothing in them can end a quotation.
/// </summary>
public static class Snippets
{
    /// <param name="web">Host and port of the pages, such as 127.0.0.1:5080.</param>
    /// <param name="broker">Host and port of the broker.</param>
    /// <param name="payload">An example message as JSON text.</param>
    public static IReadOnlyList<Snippet> Of(string site, string node, (string Host, int Port) web, (string Host, int Port) broker, string payload)
    {
        var (user, path, topic) = ($"{site}/{node}", $"/api/intake/{site}/{node}", Topics.Data(site, node));
        return
        [
            new("shell", "Over HTTP", "curl", $$"""
                curl --fail-with-body --silent --show-error \
                  --user "{{user}}:$CENOTIC_KEY" \
                  --data-binary '{{payload}}' \
                  http://{{web.Host}}:{{web.Port}}{{path}}
                """),
            new("shell", "Over MQTT", "an MQTT client such as Debian's mosquitto-clients", $$"""
                mosquitto_pub -h {{broker.Host}} -p {{broker.Port}} -q 1 -i '{{site}}-{{node}}' \
                  -u '{{user}}' -P "$CENOTIC_KEY" \
                  -t '{{topic}}' \
                  -m '{{payload}}'
                """),
            new("python", "Over HTTP", "Python 3, nothing else", $$"""
                import base64
                import os
                import urllib.request

                payload = '{{payload}}'
                request = urllib.request.Request(
                    "http://{{web.Host}}:{{web.Port}}{{path}}", payload.encode(), method="POST"
                )
                pair = "{{user}}:" + os.environ["CENOTIC_KEY"]
                request.add_header("Authorization", "Basic " + base64.b64encode(pair.encode()).decode())
                with urllib.request.urlopen(request, timeout=10) as answer:
                    print(answer.status, answer.read().decode())
                """),
            new("c", "Over HTTP", "C99 and POSIX sockets", C(user, path, web, payload)),
        ];
    }

    private static string C(string user, string path, (string Host, int Port) web, string payload) => $$"""
        #define _POSIX_C_SOURCE 200112L
        #include <netdb.h>
        #include <stdio.h>
        #include <stdlib.h>
        #include <string.h>
        #include <sys/socket.h>
        #include <unistd.h>

        static void base64(const char *in, char *out) {
          static const char set[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
          size_t n = strlen(in), i;
          for (i = 0; i < n; i += 3) {
            unsigned long v = (unsigned char)in[i] * 65536UL;
            if (i + 1 < n) v += (unsigned char)in[i + 1] * 256UL;
            if (i + 2 < n) v += (unsigned char)in[i + 2];
            *out++ = set[v >> 18 & 63];
            *out++ = set[v >> 12 & 63];
            *out++ = i + 1 < n ? set[v >> 6 & 63] : '=';
            *out++ = i + 2 < n ? set[v & 63] : '=';
          }
          *out = 0;
        }

        int main(void) {
          const char *key = getenv("CENOTIC_KEY");
          const char *payload = "{{payload.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}}";
          char pair[256], code[400], request[4096], answer[4096];
          struct addrinfo hints = {0}, *to = NULL;
          int line, length;
          ssize_t got;
          if (key == NULL || snprintf(pair, sizeof pair, "{{user}}:%s", key) >= (int)sizeof pair) {
            fputs("CENOTIC_KEY is not set, or too long.\n", stderr);
            return 2;
          }
          base64(pair, code);
          length = snprintf(request, sizeof request,
                            "POST {{path}} HTTP/1.1\r\nHost: {{web.Host}}:{{web.Port}}\r\n"
                            "Authorization: Basic %s\r\nContent-Length: %zu\r\nConnection: close\r\n\r\n%s",
                            code, strlen(payload), payload);
          if (length < 0 || length >= (int)sizeof request) return 2;
          hints.ai_socktype = SOCK_STREAM;
          if (getaddrinfo("{{web.Host}}", "{{web.Port}}", &hints, &to) != 0) return 1;
          line = socket(to->ai_family, to->ai_socktype, to->ai_protocol);
          if (line < 0 || connect(line, to->ai_addr, to->ai_addrlen) != 0 || write(line, request, (size_t)length) != length) {
            perror("send");
            return 1;
          }
          freeaddrinfo(to);
          length = 0;
          while (length < (int)sizeof answer - 1 && (got = read(line, answer + length, sizeof answer - 1 - (size_t)length)) > 0) length += (int)got;
          answer[length] = 0;
          close(line);
          puts(answer);
          return strncmp(answer, "HTTP/1.1 200", 12) == 0 ? 0 : 1;
        }
        """;
}
