<script setup lang="ts">
/** The control sheet of the demo's stand-ins: speed of site time, silence, heat, trip. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { api, answer, sentence, type StandInSetting, type StandInView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { say } from "@/kit/notices";
import SentMessages from "./SentMessages.vue";

const site = useSite();
const queries = useQueryClient();
const query = useQuery({
  queryKey: ["stand-ins", site.key],
  refetchInterval: 5000,
  queryFn: () => answer(api.GET("/api/sites/{site}/stand-ins", { params: { path: { site: site.key.value } } })),
});
const speeds = [1, 10, 60];
const losses = [0, 1, 8, 30, 60].map((p) => ({ value: p, label: `${p} %` }));
const clocks = [
  { value: 0, label: "right" },
  { value: 90, label: "90 s ahead" },
  { value: 3600, label: "1 h ahead" },
  { value: -3600, label: "1 h behind" },
];

async function set(n: StandInView, change: Partial<StandInSetting>) {
  const { silenced, heatCelsius, unplugged, jammed, lossPercent, skewSeconds, scanning, warmPart } = n;
  const { error, response } = await api.PUT("/api/sites/{site}/stand-ins/{node}", {
    params: { path: { site: site.key.value, node: n.node } },
    body: {
      silenced,
      heatCelsius,
      unplugged,
      jammed,
      lossPercent,
      skewSeconds,
      scanning,
      warmPart,
      trip: false,
      cells: null,
      ...change,
    },
  });
  if (!response.ok) say(sentence(error), { bad: true });
  await queries.invalidateQueries({ queryKey: ["stand-ins"] });
}

async function setSpeed(speed: number) {
  const { error, response } = await api.PUT("/api/sites/{site}/speed", {
    params: { path: { site: site.key.value } },
    body: { speed },
  });
  if (!response.ok) say(sentence(error), { bad: true });
  await Promise.all([queries.invalidateQueries({ queryKey: ["stand-ins"] }), queries.invalidateQueries({ queryKey: ["site"] })]);
}
</script>

<template>
  <details class="border border-dashed border-clay p-2">
    <summary class="flex min-h-9 cursor-pointer flex-wrap items-center gap-x-3">
      <span class="font-semibold text-clay">Demo: stand-ins play these nodes</span
      ><span class="text-sm text-faint">unplug, jam, drain, heat or trip one, or let time run faster</span>
    </summary>
    <div class="mt-2 flex flex-wrap items-center gap-2">
      <span>Site time runs</span>
      <ChoiceStrip
        label="Speed of site time"
        :options="speeds.map((s) => ({ value: s, label: `×${s}` }))"
        :model-value="query.data.value?.speed"
        @update:model-value="setSpeed($event!)"
      />
    </div>
    <div class="mt-2 overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Node</th>
            <th>Heat</th>
            <th>Trip, 1 min</th>
            <th>Supply</th>
            <th>Link</th>
            <th>Lost on the way</th>
            <th>Clock</th>
            <th>Scan</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="n in query.data.value?.nodes ?? []" :key="n.node" :data-stand-in="n.node">
            <td>{{ n.label }}</td>
            <td class="whitespace-nowrap">
              <AppButton small :aria-label="`−5 °C for ${n.label}`" @click="set(n, { heatCelsius: n.heatCelsius - 5 })"
                >−5 °C</AppButton
              >
              <span class="mono mx-2">{{ n.heatCelsius > 0 ? "+" : "" }}{{ n.heatCelsius }} °C</span>
              <AppButton small :aria-label="`+5 °C for ${n.label}`" @click="set(n, { heatCelsius: n.heatCelsius + 5 })"
                >+5 °C</AppButton
              >
            </td>
            <td>
              <AppButton
                small
                :disabled="n.tripped"
                :aria-label="`${n.tripped ? 'tripped' : 'Trip for 1 min'}: ${n.label}`"
                @click="set(n, { trip: true })"
                >{{ n.tripped ? "tripped" : "Trip" }}</AppButton
              >
            </td>
            <td class="whitespace-nowrap">
              <AppButton
                small
                :aria-label="`${n.unplugged ? 'Plug in' : 'Unplug'}: ${n.label}`"
                @click="set(n, { unplugged: !n.unplugged })"
                >{{ n.unplugged ? "Plug in" : "Unplug" }}</AppButton
              >
              <template v-if="n.cells !== null">
                <span class="mono mx-2">{{ Math.round(n.cells * 100) }} %</span>
                <AppButton
                  small
                  :aria-label="`${n.cells > 0.1 ? 'Drain the cells' : 'Put new cells in'}: ${n.label}`"
                  @click="set(n, { cells: n.cells > 0.1 ? 0.03 : 1 })"
                  >{{ n.cells > 0.1 ? "Drain" : "New cells" }}</AppButton
                >
              </template>
            </td>
            <td class="whitespace-nowrap">
              <AppButton
                small
                :aria-label="`${n.silenced ? 'Let it speak' : 'Silence'}: ${n.label}`"
                @click="set(n, { silenced: !n.silenced })"
                >{{ n.silenced ? "Let it speak" : "Silence" }}</AppButton
              >
              <AppButton
                small
                class="ml-1"
                :aria-label="`${n.jammed ? 'Clear the air' : 'Jam'}: ${n.label}`"
                @click="set(n, { jammed: !n.jammed })"
                >{{ n.jammed ? "Clear the air" : "Jam" }}</AppButton
              >
            </td>
            <td class="min-w-24 whitespace-nowrap">
              <SelectBox
                :model-value="n.lossPercent"
                :options="losses"
                :label="`Lost on the way from ${n.label}`"
                @update:model-value="(p) => set(n, { lossPercent: p })"
              />
            </td>
            <td>
              <SelectBox
                :model-value="n.skewSeconds"
                :options="clocks"
                :label="`Clock of ${n.label}`"
                @update:model-value="(s) => set(n, { skewSeconds: s })"
              />
            </td>
            <td class="whitespace-nowrap">
              <AppButton
                small
                :aria-label="`${n.scanning ? 'Stop its scans' : 'Let it scan'}: ${n.label}`"
                @click="set(n, { scanning: !n.scanning })"
                >{{ n.scanning ? "Stop" : "Scan" }}</AppButton
              >
              <SelectBox
                v-if="n.probes.length && n.scanning"
                class="ml-1 inline-block"
                :model-value="n.warmPart"
                :options="[
                  { value: null as string | null, label: 'no hand' },
                  ...n.probes.map((p) => ({ value: p as string | null, label: `hand on ${p}` })),
                ]"
                :label="`Hand on a probe of ${n.label}`"
                @update:model-value="(p) => set(n, { warmPart: p })"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-2">
      <a class="text-act underline" :href="`/api/sites/${site.key.value}/stand-ins/card.csv`" download
        >Take the storage card out of the drying room</a
      >
      <span class="text-sm text-faint"> a table to import: the day before yesterday, its last row torn</span>
    </p>
    <SentMessages what="mails" :messages="query.data.value?.mails ?? []" />
    <SentMessages what="text messages" :messages="query.data.value?.texts ?? []" />
  </details>
</template>
