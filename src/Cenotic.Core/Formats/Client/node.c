/*
 * The program of a node, as far as it can be written without the parts: fill in read_reading and drive_output.
 * As it stands it runs on any machine with sockets and sends made-up values.
 *   cc -std=c99 -O2 -include secrets.h node.c cenotic.c cenotic_mqtt.c -lm -o node
 *   ./node HOST PORT BOOT [SECONDS]
 */
#define _POSIX_C_SOURCE 200112L
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "cenotic_mqtt.h"
#include "settings.h"

static const cenotic_reading readings[] = {CENOTIC_READINGS};
static const cenotic_output_setting outputs[] = {CENOTIC_OUTPUTS};
static const cenotic_correction corrections[] = {CENOTIC_CORRECTIONS};
static const cenotic_limit_setting limits[] = {CENOTIC_LIMITS};
#define COUNT_OF(rows) (sizeof rows / sizeof rows[0])

static cenotic_node node;
static cenotic_mqtt mqtt;

/* Fill in: measure. NAN when the part did not answer. */
static double read_reading(const cenotic_reading *reading, int64_t uptime_ms) {
  return reading->unit == NULL ? (double)(uptime_ms / 10000 % 2) : 20 + sin((double)uptime_ms / 60000.0);
}

/* Fill in: drive the pin. */
static void drive_output(const char *key, bool on) {
  printf("%s %s\n", key, on ? "on" : "off");
  fflush(stdout);
}

/* Fill in: sound or show that a limit is passed. It works without a network. */
static void show_limit(const char *rule, bool raised) {
  printf("limit %s %s\n", rule, raised ? "raised" : "over");
  fflush(stdout);
}

static void watch_limits(const char *key, double value, int64_t now) {
  static cenotic_limit watched[COUNT_OF(limits)];
  for (size_t i = 0; i < COUNT_OF(limits); i++) {
    if (limits[i].key == NULL || strcmp(limits[i].key, key) != 0) continue;
    watched[i].setting = limits[i];
    const bool before = watched[i].raised;
    if (cenotic_beyond(&watched[i], value, now) != before) show_limit(limits[i].rule, !before);
  }
}

static void on_command(void *self, const char *text, size_t length) {
  (void)self;
  cenotic_server_heard(&node, cenotic_uptime_ms());
  cenotic_command(&node, text, length, cenotic_clock_ms(), cenotic_uptime_ms());
}

static void drive_outputs(void) {
  static int driven[CENOTIC_MOST_OUTPUTS] = {-1, -1, -1, -1, -1};
  cenotic_advance(&node, cenotic_uptime_ms());
  for (size_t i = 0; i < node.output_count; i++) {
    const cenotic_output *output = &node.outputs[i];
    if (driven[i] != (int)output->on) drive_output(output->setting.key, output->on);
    driven[i] = output->on;
  }
}

static bool is_output(const char *key) {
  for (size_t i = 0; i < COUNT_OF(outputs); i++) {
    if (outputs[i].key != NULL && strcmp(outputs[i].key, key) == 0) return true;
  }
  return false;
}

int main(int count, char **words) {
  int64_t due[COUNT_OF(readings)] = {0};
  double last[COUNT_OF(readings)];
  unsigned waiting[COUNT_OF(readings)] = {0};
  const char *key = getenv("CENOTIC_KEY");
#ifdef CENOTIC_KEY
  if (key == NULL) key = CENOTIC_KEY;
#endif
  if (count < 4 || key == NULL) {
    fprintf(stderr, "node HOST PORT BOOT [SECONDS], with the node's key in CENOTIC_KEY\n");
    return 2;
  }
  const int64_t begun = cenotic_uptime_ms(), end = count > 4 ? begun + atol(words[4]) * 1000 : INT64_MAX;
  cenotic_begin(&node, CENOTIC_TOPIC_DATA, CENOTIC_SETTINGS, (uint32_t)strtoul(words[3], NULL, 10), cenotic_mqtt_publish, &mqtt);
  node.firmware = "node.c 1";
  node.reset = "power";
  for (size_t i = 0; i < COUNT_OF(outputs); i++) {
    if (outputs[i].key != NULL) cenotic_add_output(&node, outputs[i]);
  }
  /* Test mode: every second a message, and the lamp of the board lit. */
  const cenotic_output_setting test = {CENOTIC_TEST, CENOTIC_TEST_MOST_MS, 0};
  cenotic_add_output(&node, test);
  for (size_t i = 0; i < COUNT_OF(readings); i++) last[i] = NAN;
  mqtt.socket = -1;
  mqtt.on_command = on_command;
  while (cenotic_uptime_ms() < end) {
    const int64_t now = cenotic_uptime_ms();
    bool ready = !node.told;
    if (mqtt.socket < 0) {
      cenotic_safe(&node);
      if (cenotic_mqtt_open(&mqtt, words[1], words[2], CENOTIC_SITE, CENOTIC_NODE, key)) cenotic_server_heard(&node, now);
    }
    const bool testing = cenotic_is_on(&node, CENOTIC_TEST);
    for (size_t i = 0; i < COUNT_OF(readings); i++) {
      const cenotic_reading *reading = &readings[i];
      const int64_t interval = testing && reading->interval_ms > CENOTIC_TEST_EVERY_MS ? CENOTIC_TEST_EVERY_MS : reading->interval_ms;
      if (interval > 0 && due[i] > now + interval) due[i] = now;
      if (reading->key == NULL || (reading->interval_ms > 0 && now < due[i])) continue;
      const double value = is_output(reading->key) ? cenotic_is_on(&node, reading->key) : cenotic_correct(corrections, COUNT_OF(corrections), reading->key, read_reading(reading, now - begun));
      watch_limits(reading->key, value, now);
      if (reading->interval_ms == 0 && value == last[i] && (reading->heartbeat_ms == 0 || now < due[i])) continue;
      last[i] = value;
      due[i] = now + (interval > 0 ? interval : reading->heartbeat_ms);
      if (cenotic_add(&node, reading, value, cenotic_clock_ms()) && (++waiting[i] >= reading->batch || testing)) {
        waiting[i] = 0;
        ready = true;
      }
    }
    if (ready || node.pending > 0 || node.answer_count > 0) {
      if (cenotic_send(&node, cenotic_clock_ms())) cenotic_server_heard(&node, cenotic_uptime_ms());
    }
    drive_outputs();
    if (mqtt.socket < 0 || !cenotic_mqtt_wait(&mqtt, 200)) {
      fprintf(stderr, "no connection; it is tried again\n");
      cenotic_safe(&node);
      drive_outputs();
      cenotic_rest_ms(1000);
    }
  }
  cenotic_safe(&node);
  drive_outputs();
  cenotic_mqtt_close(&mqtt);
  return node.number > 0 && node.pending == 0 ? 0 : 1;
}
