#define _POSIX_C_SOURCE 200112L
#include "cenotic_mqtt.h"

#include <errno.h>
#include <netdb.h>
#include <poll.h>
#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <sys/socket.h>
#include <time.h>
#include <unistd.h>

enum { CONNECT = 1, CONNACK = 2, PUBLISH = 3, PUBACK = 4, SUBSCRIBE = 8, SUBACK = 9, PINGREQ = 12, PINGRESP = 13, DISCONNECT = 14 };

static int64_t since(clockid_t clock) {
  struct timespec now;
  clock_gettime(clock, &now);
  return (int64_t)now.tv_sec * 1000 + now.tv_nsec / 1000000;
}

int64_t cenotic_clock_ms(void) { return since(CLOCK_REALTIME); }

int64_t cenotic_uptime_ms(void) { return since(CLOCK_MONOTONIC); }

void cenotic_rest_ms(int milliseconds) { (void)poll(NULL, 0, milliseconds); }

/* A packet that is put together: the header goes before the body when its length is known. */
typedef struct {
  uint8_t bytes[CENOTIC_MESSAGE_BYTES + 256];
  size_t length;
  bool fits;
} packet;

static void put(packet *p, const void *bytes, size_t length) {
  p->fits = p->fits && p->length + length <= sizeof p->bytes;
  if (!p->fits) return;
  memcpy(p->bytes + p->length, bytes, length);
  p->length += length;
}

static void put_number(packet *p, uint16_t number) { put(p, (uint8_t[]){(uint8_t)(number >> 8), (uint8_t)number}, 2); }

static void put_text(packet *p, const char *text) {
  put_number(p, (uint16_t)strlen(text));
  put(p, text, strlen(text));
}

static bool write_all(cenotic_mqtt *mqtt, const uint8_t *bytes, size_t length) {
  while (length > 0) {
    const ssize_t wrote = send(mqtt->socket, bytes, length, 0);
    if (wrote <= 0 && errno != EINTR) return false;
    if (wrote > 0) {
      bytes += wrote;
      length -= (size_t)wrote;
    }
  }
  mqtt->sent_ms = cenotic_uptime_ms();
  return true;
}

static bool send_packet(cenotic_mqtt *mqtt, uint8_t head, const packet *body) {
  uint8_t header[5] = {head};
  size_t length = 1, rest = body->length;
  if (!body->fits) return false;
  do {
    header[length] = (uint8_t)(rest % 128);
    rest /= 128;
    if (rest > 0) header[length] |= 128;
    length++;
  } while (rest > 0);
  return write_all(mqtt, header, length) && write_all(mqtt, body->bytes, body->length);
}

/* Reads exactly so many bytes before a moment. */
static bool read_all(cenotic_mqtt *mqtt, uint8_t *bytes, size_t length, int64_t until) {
  while (length > 0) {
    const int64_t left = until - cenotic_uptime_ms();
    struct pollfd line = {mqtt->socket, POLLIN, 0};
    const int ready = left <= 0 ? 0 : poll(&line, 1, (int)left);
    if (ready < 0 && errno == EINTR) continue;
    if (ready <= 0) return false;
    const ssize_t got = recv(mqtt->socket, bytes, length, 0);
    if (got <= 0) return false;
    bytes += got;
    length -= (size_t)got;
  }
  return true;
}

/* Takes one packet: its type, and what is in it; 0 when none came or the connection is lost. Bytes that do not fit are passed over. */
static int take(cenotic_mqtt *mqtt, size_t *length) {
  const int64_t until = cenotic_uptime_ms() + mqtt->timeout_ms;
  uint8_t head, digit, over;
  size_t rest = 0, factor = 1;
  if (!read_all(mqtt, &head, 1, until)) return 0;
  do {
    if (factor > 128UL * 128 * 128 || !read_all(mqtt, &digit, 1, until)) return 0;
    rest += (digit & 127) * factor;
    factor *= 128;
  } while (digit & 128);
  *length = rest < sizeof mqtt->packet_bytes ? rest : sizeof mqtt->packet_bytes;
  if (!read_all(mqtt, mqtt->packet_bytes, *length, until)) return 0;
  for (; rest > *length; rest--) {
    if (!read_all(mqtt, &over, 1, until)) return 0;
  }
  return head >> 4 == PUBLISH ? head : head >> 4;
}

/* Hands a command on, and acknowledges it when its sender waits for that. */
static bool hear(cenotic_mqtt *mqtt, int head, size_t length) {
  const int quality = head >> 1 & 3;
  const uint8_t *bytes = mqtt->packet_bytes;
  const size_t name = length < 2 ? length : (size_t)(bytes[0] << 8 | bytes[1]);
  const size_t start = 2 + name + (quality > 0 ? 2 : 0);
  if (length < 2 || start > length) return false;
  if (name == strlen(mqtt->command_topic) && memcmp(bytes + 2, mqtt->command_topic, name) == 0 && mqtt->on_command != NULL) {
    mqtt->on_command(mqtt->self, (const char *)bytes + start, length - start);
  }
  if (quality == 0) return true;
  packet answer = {.fits = true};
  put(&answer, bytes + 2 + name, 2);
  return send_packet(mqtt, PUBACK << 4, &answer);
}

/* Waits for an answer of a type; commands that come meanwhile are heard. */
static bool await(cenotic_mqtt *mqtt, int type, uint16_t number, size_t number_at) {
  for (;;) {
    size_t length = 0;
    const int came = take(mqtt, &length);
    if (came == 0) return false;
    if (came >> 4 == PUBLISH) {
      if (!hear(mqtt, came, length)) return false;
    } else if (came == type && length >= number_at + 2 && (mqtt->packet_bytes[number_at] << 8 | mqtt->packet_bytes[number_at + 1]) == number) {
      return true;
    } else if (came == type && type == CONNACK) {
      return false;
    }
  }
}

void cenotic_mqtt_close(cenotic_mqtt *mqtt) {
  if (mqtt->socket >= 0) {
    (void)write_all(mqtt, (uint8_t[]){DISCONNECT << 4, 0}, 2);
    close(mqtt->socket);
  }
  mqtt->socket = -1;
}

/* Without a farewell, so that the broker tells the last will. */
static bool lose(cenotic_mqtt *mqtt) {
  if (mqtt->socket >= 0) close(mqtt->socket);
  mqtt->socket = -1;
  return false;
}

static bool reach(cenotic_mqtt *mqtt, const char *host, const char *port) {
  struct addrinfo hints = {0}, *found = NULL;
  hints.ai_socktype = SOCK_STREAM;
  mqtt->socket = -1;
  if (getaddrinfo(host, port, &hints, &found) != 0) return false;
  for (const struct addrinfo *at = found; at != NULL && mqtt->socket < 0; at = at->ai_next) {
    mqtt->socket = socket(at->ai_family, at->ai_socktype, at->ai_protocol);
    if (mqtt->socket >= 0 && connect(mqtt->socket, at->ai_addr, at->ai_addrlen) != 0) lose(mqtt);
  }
  freeaddrinfo(found);
  return mqtt->socket >= 0;
}

bool cenotic_mqtt_open(cenotic_mqtt *mqtt, const char *host, const char *port, const char *site, const char *node, const char *key) {
  char name[96], client[96], data[128];
  packet connect_packet = {.fits = true}, subscribe = {.fits = true};
  static const char gone[] = "[{\"n\":\"sys/up\",\"v\":0}]", there[] = "[{\"n\":\"sys/up\",\"v\":1}]";
  snprintf(name, sizeof name, "%s/%s", site, node);
  snprintf(client, sizeof client, "%s-%s", site, node);
  snprintf(data, sizeof data, "site/%s/%s/data", site, node);
  snprintf(mqtt->command_topic, sizeof mqtt->command_topic, "site/%s/%s/command", site, node);
  if (mqtt->keep_alive_s == 0) mqtt->keep_alive_s = 60;
  if (mqtt->timeout_ms == 0) mqtt->timeout_ms = 10000;
  signal(SIGPIPE, SIG_IGN); /* a lost connection is an answer of send, not an end */
  if (!reach(mqtt, host, port)) return false;
  put_text(&connect_packet, "MQTT");
  /* Level 4; name, key, a will of QoS 1, a clean session. */
  put(&connect_packet, (uint8_t[]){4, 0xCE}, 2);
  put_number(&connect_packet, (uint16_t)mqtt->keep_alive_s);
  put_text(&connect_packet, client);
  put_text(&connect_packet, data);
  put_text(&connect_packet, gone);
  put_text(&connect_packet, name);
  put_text(&connect_packet, key);
  if (!send_packet(mqtt, CONNECT << 4, &connect_packet) || !await(mqtt, CONNACK, 0, 0)) return lose(mqtt);
  put_number(&subscribe, ++mqtt->packet);
  put_text(&subscribe, mqtt->command_topic);
  put(&subscribe, (uint8_t[]){1}, 1);
  if (!send_packet(mqtt, SUBSCRIBE << 4 | 2, &subscribe) || !await(mqtt, SUBACK, mqtt->packet, 0) || mqtt->packet_bytes[2] > 2) return lose(mqtt);
  return cenotic_mqtt_publish(mqtt, data, there, sizeof there - 1);
}

bool cenotic_mqtt_publish(void *self, const char *topic, const char *payload, size_t length) {
  cenotic_mqtt *mqtt = self;
  packet message = {.fits = true};
  if (mqtt->socket < 0) return false;
  if (++mqtt->packet == 0) mqtt->packet = 1;
  put_text(&message, topic);
  put_number(&message, mqtt->packet);
  put(&message, payload, length);
  return (send_packet(mqtt, PUBLISH << 4 | 2, &message) && await(mqtt, PUBACK, mqtt->packet, 0)) || lose(mqtt);
}

bool cenotic_mqtt_wait(cenotic_mqtt *mqtt, int milliseconds) {
  const int64_t until = cenotic_uptime_ms() + milliseconds;
  while (mqtt->socket >= 0) {
    const int64_t left = until - cenotic_uptime_ms();
    if (left <= 0) return true;
    if (cenotic_uptime_ms() - mqtt->sent_ms >= (int64_t)mqtt->keep_alive_s * 500 && !write_all(mqtt, (uint8_t[]){PINGREQ << 4, 0}, 2)) break;
    struct pollfd line = {mqtt->socket, POLLIN, 0};
    const int ready = poll(&line, 1, (int)(left < 1000 ? left : 1000));
    if (ready < 0 && errno != EINTR) break;
    if (ready > 0) {
      size_t length = 0;
      const int came = take(mqtt, &length);
      if (came == 0 || (came >> 4 == PUBLISH && !hear(mqtt, came, length))) break;
    }
  }
  return lose(mqtt);
}
