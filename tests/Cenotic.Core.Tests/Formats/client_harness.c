/* Drives the reference client by lines on standard input, and prints what it does. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "cenotic.h"

static cenotic_node node;
static bool arrives;
static cenotic_reading readings[8];
static size_t reading_count;

static bool publish(void *self, const char *topic, const char *payload, size_t length) {
  (void)self;
  printf("%s %s %.*s\n", arrives ? "took" : "lost", topic, (int)length, payload);
  return arrives;
}

static const cenotic_reading *reading(const char *key, const char *unit, int decimals) {
  for (size_t i = 0; i < reading_count; i++) {
    if (strcmp(readings[i].key, key) == 0) return &readings[i];
  }
  char *kept = malloc(strlen(key) + 1), *unit_kept = malloc(strlen(unit) + 1);
  if (kept == NULL || unit_kept == NULL || reading_count == sizeof readings / sizeof readings[0]) exit(3);
  strcpy(kept, key);
  strcpy(unit_kept, unit);
  readings[reading_count] = (cenotic_reading){kept, *unit == '-' ? NULL : unit_kept, 0, 0, 1, decimals};
  if (*unit == '-') free(unit_kept);
  return &readings[reading_count++];
}

static void states(void) {
  for (size_t i = 0; i < node.output_count; i++) putchar(cenotic_is_on(&node, node.outputs[i].setting.key) ? '1' : '0');
  putchar('\n');
}

int main(void) {
  static char line[2048], key[64], unit[16];
  static char output_keys[CENOTIC_MOST_OUTPUTS][64];
  long long a, b, at;
  int decimals;
  double value, scale;
  cenotic_begin(&node, "t", "cafe0123", 7, publish, NULL);
  while (fgets(line, sizeof line, stdin) != NULL) {
    line[strcspn(line, "\n")] = 0;
    switch (line[0]) {
      case 'O':
        if (sscanf(line, "O %63s %lld %lld", key, &a, &b) != 3) return 2;
        strcpy(output_keys[node.output_count], key);
        if (!cenotic_add_output(&node, (cenotic_output_setting){output_keys[node.output_count], (uint32_t)a, (uint32_t)b})) return 2;
        break;
      case 'C': {
        int text = 0;
        if (sscanf(line, "C %lld %lld %n", &a, &b, &text) != 2) return 2;
        putchar(cenotic_command(&node, line + text, strlen(line + text), a, b) ? 'y' : 'n');
        states();
        break;
      }
      case 'A':
        cenotic_advance(&node, atoll(line + 2));
        states();
        break;
      case 'H':
        cenotic_server_heard(&node, atoll(line + 2));
        states();
        break;
      case 'S':
        cenotic_safe(&node);
        states();
        break;
      case 'V':
        if (sscanf(line, "V %63s %15s %d %lf %lld", key, unit, &decimals, &value, &at) != 5) return 2;
        puts(cenotic_add(&node, reading(key, unit, decimals), value, at) ? "kept" : "refused");
        break;
      case 'P':
        if (sscanf(line, "P %lld %lld", &a, &at) != 2) return 2;
        arrives = a != 0;
        printf("%s %u\n", cenotic_send(&node, at) ? "all" : "waits", (unsigned)node.dropped);
        break;
      case 'F': {
        uint8_t bytes[32];
        cenotic_frame frame;
        char *next = line + 2;
        scale = strtod(next, &next);
        cenotic_frame_begin(&frame, bytes, sizeof bytes, (const uint8_t[]){0xAA, 0x55}, 2);
        while (*next != 0) cenotic_frame_put(&frame, strtod(next, &next), scale);
        const size_t length = cenotic_frame_end(&frame);
        for (size_t i = 0; i < length; i++) printf("%02X", bytes[i]);
        putchar('\n');
        break;
      }
      default:
        return 2;
    }
  }
  for (size_t i = 0; i < reading_count; i++) {
    free((void *)(uintptr_t)readings[i].key);
    free((void *)(uintptr_t)readings[i].unit);
  }
  return 0;
}
