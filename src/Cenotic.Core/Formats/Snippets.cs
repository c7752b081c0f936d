namespace Cenotic.Core.Formats;

/// <summary>A small program that sends messages of a node, to begin from.</summary>
/// <param name="Language">shell, python or c.</param>
/// <param name="Needs">What the machine must have.</param>
public sealed record Snippet(string Language, string Title, string Needs, string Text);

/// <summary>Where a node sends to.</summary>
/// <param name="Tls">True when it is reached over TLS.</param>
public readonly record struct SendTo(string Host, int Port, bool Tls);

/// <summary>
/// Programs that send a node's message once a minute and count what they send: a new count of starts with every start, a new number with every message. The key
/// is taken from the environment variable CENOTIC_KEY, so that it stands in no file; CENOTIC_CA names the certificate of a server that signs its own, and
/// CENOTIC_EVERY the seconds between two messages. Keys of sites, nodes and readings are letters, digits and hyphens: nothing in them can end a quotation.
/// </summary>
public static class Snippets
{
    /// <param name="web">The pages.</param>
    /// <param name="records">SenML records of its readings as JSON, with commas between them and no brackets round them; empty for none.</param>
    /// <returns>The one in C has no TLS of its own: it is left out where the pages are reached over TLS only.</returns>
    public static IReadOnlyList<Snippet> Of(string site, string node, SendTo web, SendTo broker, string records)
    {
        var (user, path) = ($"{site}/{node}", $"/api/intake/{site}/{node}");
        var url = $"{(web.Tls ? "https" : "http")}://{web.Host}:{web.Port}{path}";
        var values = records.Length > 0 ? records + "," : "";
        List<Snippet> programs =
        [
            new("shell", "Over HTTP", "curl", OverHttp(user, url, web.Tls, values)),
            new("shell", "Over MQTT", "an MQTT client such as Debian's mosquitto-clients", OverMqtt(site, node, user, broker, values)),
            new("python", "Over HTTP", "Python 3, nothing else", Python(user, url, web.Tls, values)),
        ];
        if (!web.Tls)
        {
            programs.Add(new("c", "Over HTTP", "C99 and POSIX sockets", C(user, path, web, values)));
        }
        return programs;
    }

    private static string OverHttp(string user, string url, bool tls, string values) =>
        $$"""
            boot=$(date +%s)
            number=0
            while curl --fail-with-body --silent --show-error{{(tls ? " ${CENOTIC_CA:+--cacert \"$CENOTIC_CA\"}" : "")}} \
                --user "{{user}}:$CENOTIC_KEY" \
                --data-binary '[{{values}}{"n":"sys/boot","v":'$boot'},{"n":"sys/seq","v":'$number'}]' \
                {{url}}
            do
              echo
              number=$((number + 1))
              sleep "${CENOTIC_EVERY:-60}"
            done
            exit 1
            """;

    private static string OverMqtt(string site, string node, string user, SendTo broker, string values) =>
        $$"""
            boot=$(date +%s)
            number=0
            while mosquitto_pub -h {{broker.Host}} -p {{broker.Port}} -q 1 -i '{{site}}-{{node}}'{{(
                broker.Tls ? " \\\n    --cafile \"${CENOTIC_CA:-/etc/ssl/certs/ca-certificates.crt}\"" : ""
            )}} \
                -u '{{user}}' -P "$CENOTIC_KEY" \
                -t '{{Topics.Data(site, node)}}' \
                -m '[{{values}}{"n":"sys/boot","v":'$boot'},{"n":"sys/seq","v":'$number'}]'
            do
              number=$((number + 1))
              sleep "${CENOTIC_EVERY:-60}"
            done
            exit 1
            """;

    private static string Python(string user, string url, bool tls, string values) =>
        $$"""
            import base64
            import itertools
            import os
            {{(tls ? "import ssl\n" : "")}}import time
            import urllib.request

            pair = "{{user}}:" + os.environ["CENOTIC_KEY"]
            boot = int(time.time())
            for number in itertools.count():
                payload = '[{{values}}{"n":"sys/boot","v":%d},{"n":"sys/seq","v":%d}]'.replace("%d", str(boot), 1).replace("%d", str(number), 1)
                request = urllib.request.Request("{{url}}", payload.encode(), method="POST")
                request.add_header("Authorization", "Basic " + base64.b64encode(pair.encode()).decode())
                with urllib.request.urlopen(request, timeout=10{{(
                tls ? ", context=ssl.create_default_context(cafile=os.environ.get(\"CENOTIC_CA\"))" : ""
            )}}) as answer:
                    print(answer.status, answer.read().decode(), flush=True)
                time.sleep(float(os.environ.get("CENOTIC_EVERY", "60")))
            """;

    private static string C(string user, string path, SendTo web, string values) =>
        $$"""
            #define _POSIX_C_SOURCE 200112L
            #include <netdb.h>
            #include <stdio.h>
            #include <stdlib.h>
            #include <string.h>
            #include <sys/socket.h>
            #include <time.h>
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

            /* Sends one message; 0 when it was taken. */
            static int send_message(const char *code, const char *payload) {
              char request[4096], answer[4096];
              struct addrinfo hints = {0}, *to = NULL;
              int line, length;
              ssize_t got;
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

            int main(void) {
              const char *key = getenv("CENOTIC_KEY"), *every = getenv("CENOTIC_EVERY");
              char pair[256], code[400], payload[2048];
              long boot = (long)time(NULL), number;
              int failed;
              if (key == NULL || snprintf(pair, sizeof pair, "{{user}}:%s", key) >= (int)sizeof pair) {
                fputs("CENOTIC_KEY is not set, or too long.\n", stderr);
                return 2;
              }
              base64(pair, code);
              for (number = 0;; number++) {
                if (snprintf(payload, sizeof payload, "[%s{\"n\":\"sys/boot\",\"v\":%ld},{\"n\":\"sys/seq\",\"v\":%ld}]",
                             "{{values.Replace("\\", "\\\\", StringComparison.Ordinal).Replace(
                "\"",
                "\\\"",
                StringComparison.Ordinal
            )}}", boot, number) >= (int)sizeof payload) return 2;
                if ((failed = send_message(code, payload)) != 0) return failed;
                sleep(every ? (unsigned)atoi(every) : 60U);
              }
            }
            """;
}
