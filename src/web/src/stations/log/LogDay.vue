<script setup lang="ts">
/** The entries of one day. */
import type { LogEntry } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { moment } from "@/kit/format";

const props = defineProps<{ day: string; entries: LogEntry[]; zone: string; busy: string }>();
defineEmits<{ remove: [entry: LogEntry]; takeBack: [entry: LogEntry] }>();
const site = useSite();
const words: Record<LogEntry["kind"], string> = {
  edit: "plan",
  settings: "program",
  start: "start",
  scan: "scan",
  calibration: "calibration",
  current: "current",
  episode: "alert",
  output: "switch",
  build: "work",
  walk: "walk",
  outage: "outage",
  import: "table",
  setAside: "set aside",
  zone: "zone",
  note: "note",
};
const label = (key: string) => site.design.value?.nodes.find((n) => n.key === key)?.label ?? key;
const time = (ms: number) => moment(ms, props.zone).slice(0, 5);
</script>

<template>
  <section class="mb-4 max-w-3xl">
    <h2 class="caps border-b border-rule pb-1">{{ day }}</h2>
    <ul class="divide-y divide-rule">
      <li v-for="e in entries" :key="e.id" class="flex flex-wrap items-baseline gap-x-3 py-1.5 sm:flex-nowrap">
        <span class="mono shrink-0 text-sm text-faint">{{ time(e.atMs) }}</span>
        <span class="w-20 shrink-0 text-sm text-faint">{{ words[e.kind] }}</span>
        <span class="w-full min-w-0 break-words whitespace-pre-line sm:flex-1"
          ><span v-if="e.node" class="font-semibold">{{ label(e.node) }}</span
          >{{ e.node ? ": " : "" }}{{ e.text }}<span v-if="e.who" class="text-sm text-faint">{{ ` · ${e.who}` }}</span></span
        >
        <span v-if="e.pictures?.length" class="flex w-full flex-wrap gap-2 sm:w-auto">
          <a
            v-for="p in e.pictures"
            :key="p"
            :href="`/api/sites/${site.key.value}/log/pictures/${p}`"
            target="_blank"
            rel="noopener"
            ><img
              :src="`/api/sites/${site.key.value}/log/pictures/${p}`"
              alt="Picture of this note"
              loading="lazy"
              class="h-20 border border-rule"
          /></a>
        </span>
        <AppButton v-if="e.kind === 'note' && site.canWrite.value" small @click="$emit('remove', e)">Remove</AppButton>
        <AppButton
          v-if="e.canBeTakenBack && site.canWrite.value"
          small
          :disabled="busy !== ''"
          :aria-label="`Take back: ${e.text}`"
          @click="$emit('takeBack', e)"
          >{{ busy === e.id ? "Taking it back…" : "Take back" }}</AppButton
        >
      </li>
    </ul>
  </section>
</template>
