<script setup lang="ts">
/** The cells of the nodes: what is left by what they showed, against what was planned, and why it differs. */
import { ref } from "vue";
import type { BatteryView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import { moment } from "@/kit/format";
import { setNode } from "../bench/node-edits";

const props = defineProps<{ batteries: BatteryView[]; nowMs: number; zone: string }>();
const site = useSite();
const busy = ref(false);
const day = (ms: number) => moment(ms, props.zone, true).split(",")[0];
const age = (b: BatteryView) => Math.max(0, Math.round((props.nowMs - b.countedMs) / 86_400_000));
async function changed(b: BatteryView) {
  const node = site.node(b.node)!;
  busy.value = true;
  const fittedOn = new Date(props.nowMs).toISOString().slice(0, 10);
  await site.apply(`New cells in ${node.label}`, [setNode(node, { power: { ...node.power, fittedOn } })]);
  busy.value = false;
}
</script>

<template>
  <ul class="divide-y divide-rule border-y border-rule" data-cells>
    <li v-for="b in batteries" :key="b.node" class="flex flex-wrap items-start gap-x-8 gap-y-2 py-3">
      <div class="w-56 min-w-0">
        <p class="font-semibold">{{ b.label }}</p>
        <p class="text-sm text-faint">{{ b.cell }}</p>
        <p class="text-sm text-faint">
          {{ b.fittedMs ? `put in ${day(b.fittedMs)}` : `counted from ${day(b.countedMs)}` }}, {{ age(b) }} d ago
        </p>
      </div>
      <div v-if="b.state?.unlike" class="max-w-xs">
        <p class="caps">Days left</p>
        <p class="border-l-4 border-risk pl-3">
          {{ b.state.unlike.words }} No date is promised.
          <RouterLink class="text-act underline" :to="`/${site.key.value}/bench/${b.node}?view=power`"
            >Enter the cells that are in it</RouterLink
          >
        </p>
      </div>
      <div v-else-if="b.state">
        <p class="caps">Days left</p>
        <FigureView :figure="b.state.daysLeft" big band />
      </div>
      <div v-else class="max-w-xs">
        <p class="caps">Days left</p>
        <p>{{ b.byLight ? "Light carries it through the year." : "Cannot be said: nothing is known to draw on them." }}</p>
      </div>
      <dl class="grid grid-cols-[auto_1fr] gap-x-4 text-sm">
        <dt class="text-faint">Volts</dt>
        <dd class="mono">{{ b.volts === null ? "not told" : `${b.volts.toFixed(2)} V` }}</dd>
        <template v-if="b.planned">
          <dt class="text-faint">Planned</dt>
          <dd><FigureView :figure="b.planned" /></dd>
        </template>
        <template v-if="b.state && !b.state.unlike">
          <dt class="text-faint">Used</dt>
          <dd><FigureView :figure="b.state.usedMilliampHours" /></dd>
          <dt class="text-faint">Pace</dt>
          <dd>{{ b.pace }}</dd>
          <template v-if="b.earlier">
            <dt class="text-faint">Set before</dt>
            <dd>{{ b.paceBefore }}</dd>
          </template>
        </template>
      </dl>
      <ul v-if="b.isExplained" class="w-full text-sm">
        <li v-for="r in b.reasons" :key="r.label">
          {{ r.label }}: <span class="mono">×{{ r.factor.toFixed(2) }}</span> <span class="text-faint">{{ r.how }}</span>
        </li>
      </ul>
      <AppButton v-if="site.canWrite.value" class="min-h-11" :disabled="busy" @click="changed(b)">New cells put in</AppButton>
    </li>
  </ul>
</template>
