<script setup lang="ts">
/** The control sheet of the demo's stand-ins: speed of site time, silence, heat, trip. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { api, sentence } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { say } from "@/kit/notices";

const site = useSite();
const queries = useQueryClient();
const query = useQuery({
  queryKey: ["stand-ins", site.key],
  refetchInterval: 5000,
  queryFn: async () => {
    const { data, error } = await api.GET("/api/sites/{site}/stand-ins", { params: { path: { site: site.key.value } } });
    if (!data) throw new Error(sentence(error));
    return data;
  },
});
const speeds = [1, 10, 60];

async function set(node: string, silenced: boolean, heatCelsius: number, trip = false) {
  const { error, response } = await api.PUT("/api/sites/{site}/stand-ins/{node}", {
    params: { path: { site: site.key.value, node } },
    body: { silenced, heatCelsius, trip },
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
      ><span class="text-sm text-faint">silence, heat or trip one, or let time run faster</span>
    </summary>
    <div class="mt-2 flex flex-wrap items-center gap-2">
      <span>Site time runs</span>
      <span class="flex border border-faint" role="group" aria-label="Speed of site time">
        <button
          v-for="s in speeds"
          :key="s"
          type="button"
          class="min-h-11 px-3"
          :class="query.data.value?.speed === s ? 'bg-act text-onact' : 'hover:text-act'"
          :aria-pressed="query.data.value?.speed === s"
          @click="setSpeed(s)"
        >
          ×{{ s }}
        </button>
      </span>
    </div>
    <div class="mt-2 overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Node</th>
            <th>Heat</th>
            <th>Trip</th>
            <th>Silence</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="n in query.data.value?.nodes ?? []" :key="n.node">
            <td>{{ n.label }}</td>
            <td class="whitespace-nowrap">
              <AppButton small :aria-label="`−5 °C for ${n.label}`" @click="set(n.node, n.silenced, n.heatCelsius - 5)"
                >−5 °C</AppButton
              >
              <span class="mono mx-2">{{ n.heatCelsius > 0 ? "+" : "" }}{{ n.heatCelsius }} °C</span>
              <AppButton small :aria-label="`+5 °C for ${n.label}`" @click="set(n.node, n.silenced, n.heatCelsius + 5)"
                >+5 °C</AppButton
              >
            </td>
            <td>
              <AppButton
                small
                :disabled="n.tripped"
                :aria-label="`${n.tripped ? 'tripped' : 'Trip for 1 min'}: ${n.label}`"
                @click="set(n.node, n.silenced, n.heatCelsius, true)"
                >{{ n.tripped ? "tripped" : "Trip for 1 min" }}</AppButton
              >
            </td>
            <td>
              <AppButton
                small
                :aria-label="`${n.silenced ? 'Let it speak' : 'Silence'}: ${n.label}`"
                @click="set(n.node, !n.silenced, n.heatCelsius)"
                >{{ n.silenced ? "Let it speak" : "Silence" }}</AppButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </details>
</template>
