/* MQTT 3.1.1 over a POSIX socket: QoS 1 out, commands in. Without TLS; for a machine that has sockets, and to copy from. */
#ifndef CENOTIC_MQTT_H
#define CENOTIC_MQTT_H

#include "cenotic.h"

typedef struct {
  int socket; /* -1 while there is no connection */
  uint16_t packet;
  unsigned keep_alive_s;
  int timeout_ms; /* longest wait for an answer */
  int64_t sent_ms;
  char command_topic[128];
  /* Called with each message on the command topic. */
  void (*on_command)(void *self, const char *text, size_t length);
  void *self;
  uint8_t packet_bytes[CENOTIC_MESSAGE_BYTES + 256];
} cenotic_mqtt;

/* Connects with a last will (sys/up 0 on the data topic), says sys/up 1 and listens for commands. False when the broker cannot be reached or refuses. */
bool cenotic_mqtt_open(cenotic_mqtt *mqtt, const char *host, const char *port, const char *site, const char *node, const char *key);

/* A cenotic_publish: true once the broker acknowledged. After false the connection is closed. */
bool cenotic_mqtt_publish(void *mqtt, const char *topic, const char *payload, size_t length);

/* Waits for commands for so long and keeps the connection alive. False when it is lost. */
bool cenotic_mqtt_wait(cenotic_mqtt *mqtt, int milliseconds);

void cenotic_mqtt_close(cenotic_mqtt *mqtt);

/* UTC in milliseconds, by the clock of this machine. */
int64_t cenotic_clock_ms(void);

/* Milliseconds that only rise. */
int64_t cenotic_uptime_ms(void);

void cenotic_rest_ms(int milliseconds);

#endif
