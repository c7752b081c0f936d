<script setup lang="ts">
/** One zone: how it stands, with its three positions. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type ZoneView } from "@/api/client";
import { useSite } from "@/app/site";
import ChoiceStrip from "./ChoiceStrip.vue";
import SeverityMark from "./SeverityMark.vue";
import { duration, moment } from "./format";
import { say } from "./notices";

const props = defineProps<{ zone: ZoneView; now: number; title?: boolean }>();
const site = useSite();
const queries = useQueryClient();
const busy = ref(false);
const modes = [
  { value: "off" as const, label: "Off" },
  { value: "test" as const, label: "Test" },
  { value: "armed" as const, label: "Armed" },
];
const clock = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const left = computed(() => (props.zone.untilMs === null ? 0 : Math.max(0, Math.ceil((props.zone.untilMs - props.now) / 1000))));
const phase = computed(() => {
  const z = props.zone;
  switch (z.phase) {
    case "leaving":
      return { word: `leave now: ${left.value} s`, mark: "risk" as const };
    case "entering":
      return { word: `disarm now: ${left.value} s (${z.cause})`, mark: "risk" as const };
    case "alarm":
      return { word: `${z.mode === "test" ? "would be an alarm" : "alarm"}: ${z.cause}`, mark: "stop" as const };
    case "holdOff":
      return { word: `watches again in ${duration(left.value * 1000)}`, mark: "note" as const };
    case "watching":
      return { word: z.mode === "test" ? "test: sounds and tells nothing" : "watching", mark: "fine" as const };
    default:
      return { word: "off", mark: "note" as const };
  }
});
const lamp = computed(() => props.zone.lampMs !== null && props.now - props.zone.lampMs < 10_000);

async function arm(mode: "off" | "test" | "armed") {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/zones/{zone}/arm", {
    params: { path: { site: site.key.value, zone: props.zone.key } },
    body: { mode },
  });
  busy.value = false;
  if (!data) say(sentence(error), { bad: true });
  await queries.invalidateQueries({ queryKey: ["zones"] });
}
</script>

<template>
  <div class="flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
    <div class="min-w-0">
      <h3 v-if="!title" class="text-lg font-semibold">{{ zone.label }}</h3>
      <p class="font-semibold" data-phase role="status"><SeverityMark :severity="phase.mark" /> {{ phase.word }}</p>
      <p v-if="zone.phase !== 'off'" class="flex items-center gap-2 text-sm">
        <span
          class="inline-block size-3 rounded-full border border-faint"
          :class="lamp ? 'bg-risk' : ''"
          :aria-label="lamp ? 'lamp lit' : 'lamp dark'"
          role="img"
        />
        {{ zone.lamp ? `${zone.lamp}, ${moment(zone.lampMs!, clock)}` : "nothing triggered since it was armed" }}
      </p>
      <p v-if="zone.on.length" class="text-sm"><SeverityMark severity="note" /> triggers now: {{ zone.on.join(", ") }}</p>
      <p v-if="zone.neverHeard.length" class="text-sm text-faint">never heard yet: {{ zone.neverHeard.join(", ") }}</p>
      <p v-if="zone.unseen.length" class="text-sm text-faint">silence cannot be seen: {{ zone.unseen.join(", ") }}</p>
      <p v-for="f in zone.faults" :key="f" class="text-sm"><SeverityMark severity="risk" /> did not sound: {{ f }}</p>
      <p v-if="zone.who" class="text-sm text-faint">last set by {{ zone.who }}</p>
    </div>
    <ChoiceStrip
      v-if="site.canAct.value"
      wide
      :label="`Arm ${zone.label}`"
      :options="modes.map((m) => ({ ...m, name: `${zone.label}: ${m.label}` }))"
      :disabled="busy"
      :model-value="zone.mode"
      @update:model-value="arm($event!)"
    />
  </div>
</template>
