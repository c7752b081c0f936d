/*
 * A node's side of docs/formats.md in C99: messages with numbers that are sent again until they are
 * acknowledged, batches, commands that are leases, and the safe state of outputs.
 * No memory is allocated and no clock is read: times are given by the caller.
 */
#ifndef CENOTIC_H
#define CENOTIC_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifndef CENOTIC_MOST_SAMPLES
#define CENOTIC_MOST_SAMPLES 32 /* kept while nothing can be sent */
#endif
#ifndef CENOTIC_MESSAGE_BYTES
#define CENOTIC_MESSAGE_BYTES 1024 /* longest message */
#endif
/* The output that every node has: on, it is in test mode. The lamp of the board is lit meanwhile. */
#define CENOTIC_TEST "sys/test"
#define CENOTIC_TEST_EVERY_MS 1000
#define CENOTIC_TEST_MOST_MS 600000

#ifndef CENOTIC_MOST_OUTPUTS
#define CENOTIC_MOST_OUTPUTS 5
#endif
#define CENOTIC_MOST_ANSWERS 4

/* A row of CENOTIC_READINGS in the settings of a node. */
typedef struct {
  const char *key;
  const char *unit;      /* SenML unit, or NULL */
  uint32_t interval_ms;  /* 0: sent when it changes */
  uint32_t heartbeat_ms; /* longest silence of one that is sent when it changes; 0: none */
  unsigned batch;        /* readings in a message */
  int decimals;
} cenotic_reading;

/* A row of CENOTIC_OUTPUTS. */
typedef struct {
  const char *key;
  uint32_t max_on_ms;
  uint32_t server_silent_ms; /* switches on by itself after this long without a server; 0: never */
} cenotic_output_setting;

/* An output: off unless a lease holds it on. */
typedef struct {
  cenotic_output_setting setting;
  bool on;
  bool watchdog; /* what is on was begun by the silence of the server */
  int64_t last;  /* number of the last command that was obeyed */
  int64_t heard, since, until; /* uptime, ms */
} cenotic_output;

typedef struct {
  const char *key;
  const char *unit;
  double value;
  int decimals;
  int64_t at_ms; /* UTC; 0 when the node has no clock */
} cenotic_sample;

/* What carries a message: true only when it was acknowledged. */
typedef bool (*cenotic_publish)(void *self, const char *topic, const char *payload, size_t length);

typedef struct {
  const char *topic;
  const char *settings; /* CENOTIC_SETTINGS, told in the first message after a start */
  const char *firmware; /* told likewise; NULL to leave it out */
  const char *reset;    /* power, brownout, watchdog, software, pin or sleep; NULL to leave it out */
  double supply_volts;  /* 0 to leave it out */
  uint32_t free_bytes;  /* 0 to leave it out */
  cenotic_publish publish;
  void *self;
  uint32_t boot;
  uint32_t number; /* of the last message */
  bool told;       /* the report of the start is on its way or arrived */
  uint32_t dropped; /* samples that found no room */
  size_t count;
  cenotic_sample samples[CENOTIC_MOST_SAMPLES];
  size_t answer_count;
  struct {
    int64_t command;
    bool taken;
  } answers[CENOTIC_MOST_ANSWERS];
  size_t output_count;
  cenotic_output outputs[CENOTIC_MOST_OUTPUTS];
  size_t pending; /* bytes of the message that waits for its acknowledgement */
  char message[CENOTIC_MESSAGE_BYTES];
} cenotic_node;

/* Begins a node. boot counts its starts and is kept in lasting memory by the caller. */
void cenotic_begin(cenotic_node *node, const char *topic, const char *settings, uint32_t boot, cenotic_publish publish, void *self);

/* Adds an output that commands may switch. False when there is no room. */
bool cenotic_add_output(cenotic_node *node, cenotic_output_setting setting);

/* Keeps a sample for the next message. Without room the oldest goes, and is counted. Refused: a value that is no number. */
bool cenotic_add(cenotic_node *node, const cenotic_reading *reading, double value, int64_t at_ms);

/*
 * Sends what is kept: first the message that waits, unchanged and under its number, then new ones.
 * True when all of it was acknowledged. now_ms: UTC, or 0 when the node has no clock.
 */
bool cenotic_send(cenotic_node *node, int64_t now_ms);

/*
 * Obeys a command, or refuses one that has expired, is older than the last, or is none. The answer goes with the next message.
 * clock_ms: UTC, by which a command expires; uptime_ms: since the start, by which a lease is counted, so that a clock that is set cannot lengthen one.
 */
bool cenotic_command(cenotic_node *node, const char *json, size_t length, int64_t clock_ms, int64_t uptime_ms);

/* Lets time pass: call it in each turn of the loop, before the outputs are driven. */
void cenotic_advance(cenotic_node *node, int64_t uptime_ms);

/* The server was heard: an acknowledgement or a command came. */
void cenotic_server_heard(cenotic_node *node, int64_t uptime_ms);

/* To the safe state: a lost link or a sensor fault. After a reset outputs begin in it. */
void cenotic_safe(cenotic_node *node);

/* Whether an output is to be driven; false for one that is not known. */
bool cenotic_is_on(const cenotic_node *node, const char *output);

/* A row of CENOTIC_CORRECTIONS: a straight line, or from point to point of a table. */
typedef struct {
  const char *key;
  double slope, intercept;
  size_t count;
  const double (*points)[2]; /* what is shown, and what is true, rising by what is shown */
} cenotic_correction;

/* The true value to a raw one; the raw one where nothing corrects its reading. */
double cenotic_correct(const cenotic_correction *corrections, size_t count, const char *key, double raw);

/* A row of CENOTIC_LIMITS. */
typedef struct {
  const char *rule;
  const char *key;
  int above;
  double limit, clear;
  uint32_t for_ms;
} cenotic_limit_setting;

/* A limit that the node watches: begin it with zeros and its setting. */
typedef struct {
  cenotic_limit_setting setting;
  bool pending, raised;
  int64_t since_ms;
} cenotic_limit;

/* Judges a value. True while the limit is raised: beyond it for its time, until the clearing level. */
bool cenotic_beyond(cenotic_limit *limit, double value, int64_t uptime_ms);

/* A frame for a radio bridge: start bytes, fields, CRC-16 (CCITT, begun at FFFF), high byte first. */
typedef struct {
  uint8_t *bytes;
  size_t room, length, start;
  bool fits;
} cenotic_frame;

void cenotic_frame_begin(cenotic_frame *frame, uint8_t *bytes, size_t room, const uint8_t *start, size_t start_length);

/* Appends value / scale as a whole number of 16 bits, held at the ends of its range. */
void cenotic_frame_put(cenotic_frame *frame, double value, double scale);

/* Closes the frame with its check. Its length, or 0 when it did not fit. */
size_t cenotic_frame_end(cenotic_frame *frame);

/* CRC-16 of ITU-T V.41's polynomial, begun at FFFF. */
uint16_t cenotic_crc16(const uint8_t *bytes, size_t length);

#endif
