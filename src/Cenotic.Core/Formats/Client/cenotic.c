#include "cenotic.h"

#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

void cenotic_begin(cenotic_node *node, const char *topic, const char *settings, uint32_t boot, cenotic_publish publish, void *self) {
  memset(node, 0, sizeof *node);
  node->topic = topic;
  node->settings = settings;
  node->boot = boot;
  node->publish = publish;
  node->self = self;
}

bool cenotic_add_output(cenotic_node *node, cenotic_output_setting setting) {
  if (node->output_count == CENOTIC_MOST_OUTPUTS) return false;
  cenotic_output *output = &node->outputs[node->output_count++];
  memset(output, 0, sizeof *output);
  output->setting = setting;
  return true;
}

bool cenotic_add(cenotic_node *node, const cenotic_reading *reading, double value, int64_t at_ms) {
  if (!isfinite(value)) return false;
  if (node->count == CENOTIC_MOST_SAMPLES) {
    memmove(node->samples, node->samples + 1, (CENOTIC_MOST_SAMPLES - 1) * sizeof node->samples[0]);
    node->count--;
    node->dropped++;
  }
  node->samples[node->count++] = (cenotic_sample){reading->key, reading->unit, value, reading->decimals, at_ms};
  return true;
}

/* Appends to a text that may be full: false when it does not fit, and then nothing is appended. */
static bool append(char *text, size_t room, size_t *length, const char *format, ...) {
  va_list list;
  va_start(list, format);
  int wrote = vsnprintf(text + *length, room - *length, format, list);
  va_end(list);
  if (wrote < 0 || (size_t)wrote >= room - *length) {
    text[*length] = 0;
    return false;
  }
  *length += (size_t)wrote;
  return true;
}

/* Seals the next message: as many samples as fit, the answers, and the report after a start. */
static void seal(cenotic_node *node, int64_t now_ms) {
  const size_t tail = 64; /* kept free for the numbers of the message */
  const size_t room = CENOTIC_MESSAGE_BYTES - tail;
  char *text = node->message;
  size_t length = 0, taken = 0, answered = 0;
  append(text, room, &length, "[");
  for (; taken < node->count; taken++) {
    const cenotic_sample *s = &node->samples[taken];
    const size_t before = length;
    bool fits = append(text, room, &length, "%s{", length > 1 ? "," : "");
    if (fits && taken == 0 && now_ms > 0) fits = append(text, room, &length, "\"bt\":%.3f,", (double)now_ms / 1000.0);
    fits = fits && append(text, room, &length, "\"n\":\"%s\"", s->key);
    if (fits && s->unit != NULL) fits = append(text, room, &length, ",\"u\":\"%s\"", s->unit);
    if (fits && now_ms > 0 && s->at_ms > 0 && s->at_ms != now_ms) fits = append(text, room, &length, ",\"t\":%.3f", (double)(s->at_ms - now_ms) / 1000.0);
    fits = fits && append(text, room, &length, ",\"v\":%.*f}", s->decimals, s->value);
    if (!fits) {
      length = before;
      text[length] = 0;
      break;
    }
  }
  if (taken == 0 && node->count > 0) {
    /* It would not fit into any message: without it the rest goes on. */
    taken = 1;
    node->dropped++;
  }
  for (; answered < node->answer_count; answered++) {
    if (!append(text, room, &length, "%s{\"n\":\"sys/%s\",\"v\":%lld}", length > 1 ? "," : "", node->answers[answered].taken ? "ack" : "nak", (long long)node->answers[answered].command)) break;
  }
  if (!node->told) {
    /* What does not fit is left out: the readings matter more. */
    node->told = append(text, room, &length, "%s{\"n\":\"sys/cfg\",\"vs\":\"%s\"}", length > 1 ? "," : "", node->settings);
    if (node->told && node->firmware != NULL) append(text, room, &length, ",{\"n\":\"sys/fw\",\"vs\":\"%s\"}", node->firmware);
    if (node->told && node->reset != NULL) append(text, room, &length, ",{\"n\":\"sys/rst\",\"vs\":\"%s\"}", node->reset);
    if (node->told && node->supply_volts > 0) append(text, room, &length, ",{\"n\":\"sys/vcc\",\"u\":\"V\",\"v\":%.2f}", node->supply_volts);
    if (node->told && node->free_bytes > 0) append(text, room, &length, ",{\"n\":\"sys/mem\",\"v\":%lu}", (unsigned long)node->free_bytes);
  }
  node->number++;
  append(text, CENOTIC_MESSAGE_BYTES, &length, "%s{\"n\":\"sys/boot\",\"v\":%lu},{\"n\":\"sys/seq\",\"v\":%lu}]", length > 1 ? "," : "", (unsigned long)node->boot, (unsigned long)node->number);
  node->pending = length;
  node->count -= taken;
  memmove(node->samples, node->samples + taken, node->count * sizeof node->samples[0]);
  node->answer_count -= answered;
  memmove(node->answers, node->answers + answered, node->answer_count * sizeof node->answers[0]);
}

bool cenotic_send(cenotic_node *node, int64_t now_ms) {
  while (node->pending > 0 || node->count > 0 || node->answer_count > 0 || !node->told) {
    if (node->pending == 0) seal(node, now_ms);
    if (!node->publish(node->self, node->topic, node->message, node->pending)) return false;
    node->pending = 0;
  }
  return true;
}

/* The text behind "name": in a flat object, or NULL. */
static const char *member(const char *json, const char *name) {
  const size_t length = strlen(name);
  bool within = false;
  for (const char *at = json; *at != 0; at++) {
    if (*at == '\\' && within && at[1] != 0) {
      at++;
    } else if (*at == '"') {
      if (!within && strncmp(at + 1, name, length) == 0 && at[1 + length] == '"') {
        const char *value = at + length + 2;
        value += strspn(value, " \t\r\n");
        if (*value == ':') return value + 1 + strspn(value + 1, " \t\r\n");
      }
      within = !within;
    }
  }
  return NULL;
}

static bool number(const char *json, const char *name, double most, double *value) {
  const char *at = member(json, name);
  char *end = NULL;
  if (at == NULL || (*at != '-' && (*at < '0' || *at > '9'))) return false;
  *value = strtod(at, &end);
  return end != at && *value >= 0 && *value < most;
}

static cenotic_output *find(cenotic_node *node, const char *key, size_t length) {
  for (size_t i = 0; i < node->output_count; i++) {
    if (strlen(node->outputs[i].setting.key) == length && memcmp(node->outputs[i].setting.key, key, length) == 0) return &node->outputs[i];
  }
  return NULL;
}

/* Ends a lease that is over, and begins what the silence of the server begins, once. */
static void advance(cenotic_output *output, int64_t uptime_ms) {
  if (output->on && uptime_ms >= output->until) output->on = false;
  if (output->setting.server_silent_ms > 0 && !output->watchdog && uptime_ms - output->heard >= (int64_t)output->setting.server_silent_ms) {
    output->on = output->watchdog = true;
    output->until = uptime_ms + output->setting.max_on_ms;
  }
}

static bool obey(cenotic_output *output, int64_t id, bool on, int64_t expires_ms, int64_t max_on_ms, int64_t clock_ms, int64_t uptime_ms) {
  advance(output, uptime_ms);
  /* The same number again renews a lease; one that ended by itself is not begun again by it. */
  const bool renews = id == output->last;
  if (clock_ms >= expires_ms || id < output->last || (renews && on && !output->on)) return false;
  if (!(output->on && renews)) output->since = uptime_ms;
  if (max_on_ms > (int64_t)output->setting.max_on_ms) max_on_ms = output->setting.max_on_ms;
  output->last = id;
  output->on = on;
  output->until = uptime_ms + expires_ms - clock_ms;
  if (output->until > output->since + max_on_ms) output->until = output->since + max_on_ms;
  advance(output, uptime_ms);
  return true;
}

bool cenotic_command(cenotic_node *node, const char *json, size_t length, int64_t clock_ms, int64_t uptime_ms) {
  char text[256];
  double id, expires, most;
  if (length >= sizeof text || memchr(json, 0, length) != NULL) return false;
  memcpy(text, json, length);
  text[length] = 0;
  if (!number(text, "id", 9e15, &id) || !number(text, "expires", 1e11, &expires) || !number(text, "maxOn", 1e6, &most)) return false;
  const char *state = member(text, "on"), *key = member(text, "out");
  const bool on = state != NULL && strncmp(state, "true", 4) == 0;
  if (state == NULL || (!on && strncmp(state, "false", 5) != 0) || key == NULL || *key != '"') return false;
  const char *end = strchr(++key, '"');
  if (end == NULL) return false;
  cenotic_output *output = find(node, key, (size_t)(end - key));
  const bool taken = output != NULL && obey(output, (int64_t)id, on, (int64_t)llround(expires * 1000), (int64_t)llround(most * 1000), clock_ms, uptime_ms);
  if (node->answer_count < CENOTIC_MOST_ANSWERS) {
    node->answers[node->answer_count].command = (int64_t)id;
    node->answers[node->answer_count++].taken = taken;
  }
  return taken;
}

void cenotic_advance(cenotic_node *node, int64_t uptime_ms) {
  for (size_t i = 0; i < node->output_count; i++) advance(&node->outputs[i], uptime_ms);
}

void cenotic_server_heard(cenotic_node *node, int64_t uptime_ms) {
  for (size_t i = 0; i < node->output_count; i++) {
    cenotic_output *output = &node->outputs[i];
    if (output->watchdog) output->on = output->watchdog = false;
    output->heard = uptime_ms;
  }
}

void cenotic_safe(cenotic_node *node) {
  for (size_t i = 0; i < node->output_count; i++) node->outputs[i].on = false;
}

bool cenotic_is_on(const cenotic_node *node, const char *output) {
  for (size_t i = 0; i < node->output_count; i++) {
    if (strcmp(node->outputs[i].setting.key, output) == 0) return node->outputs[i].on;
  }
  return false;
}

void cenotic_frame_begin(cenotic_frame *frame, uint8_t *bytes, size_t room, const uint8_t *start, size_t start_length) {
  *frame = (cenotic_frame){bytes, room, start_length, start_length, start_length <= room};
  if (frame->fits) memcpy(bytes, start, start_length);
}

void cenotic_frame_put(cenotic_frame *frame, double value, double scale) {
  double whole = round(value / scale);
  if (whole > INT16_MAX) whole = INT16_MAX;
  if (!(whole > INT16_MIN)) whole = INT16_MIN;
  frame->fits = frame->fits && frame->length + 2 <= frame->room;
  if (!frame->fits) return;
  const uint16_t bits = (uint16_t)(int16_t)whole;
  frame->bytes[frame->length++] = (uint8_t)(bits >> 8);
  frame->bytes[frame->length++] = (uint8_t)bits;
}

size_t cenotic_frame_end(cenotic_frame *frame) {
  if (!frame->fits || frame->length + 2 > frame->room) return 0;
  const uint16_t check = cenotic_crc16(frame->bytes + frame->start, frame->length - frame->start);
  frame->bytes[frame->length++] = (uint8_t)(check >> 8);
  frame->bytes[frame->length++] = (uint8_t)check;
  return frame->length;
}

uint16_t cenotic_crc16(const uint8_t *bytes, size_t length) {
  uint16_t crc = 0xFFFF;
  for (size_t i = 0; i < length; i++) {
    crc = (uint16_t)(crc ^ bytes[i] << 8);
    for (int bit = 0; bit < 8; bit++) crc = (uint16_t)(crc & 0x8000 ? crc << 1 ^ 0x1021 : crc << 1);
  }
  return crc;
}

double cenotic_correct(const cenotic_correction *corrections, size_t count, const char *key, double raw) {
  for (size_t i = 0; i < count; i++) {
    const cenotic_correction *c = &corrections[i];
    if (c->key == NULL || strcmp(c->key, key) != 0) continue;
    if (c->count < 2) return c->intercept + c->slope * raw;
    size_t upper = 1;
    while (upper < c->count - 1 && raw > c->points[upper][0]) upper++;
    const double *a = c->points[upper - 1], *b = c->points[upper];
    return a[1] + (b[1] - a[1]) * (raw - a[0]) / (b[0] - a[0]);
  }
  return raw;
}

bool cenotic_beyond(cenotic_limit *limit, double value, int64_t uptime_ms) {
  const cenotic_limit_setting *s = &limit->setting;
  const bool beyond = s->above ? value > s->limit : value < s->limit;
  const bool back = s->above ? value <= s->clear : value >= s->clear;
  if (beyond) {
    if (!limit->pending) limit->since_ms = uptime_ms;
    limit->pending = true;
    if (uptime_ms - limit->since_ms >= (int64_t)s->for_ms) limit->raised = true;
  } else if (!limit->raised || back) {
    limit->pending = limit->raised = false;
  }
  return limit->raised;
}
