<script setup lang="ts">
/** How the nodes do: when heard, what was lost in a day, signal, what is left of the cells. */
import { computed } from "vue";
import type { TileData } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { ageText } from "@/kit/format";
import { useBoard } from "../board";

const props = defineProps<{ data: TileData | undefined }>();
const board = useBoard();
const nodes = computed(() =>
  (props.data?.nodes ?? []).map((n) => {
    const age = n.lastMs === null ? undefined : Math.max(0, board.now.value - n.lastMs);
    const silent = age === undefined || (n.silentAfterMs !== null && age > n.silentAfterMs);
    return { ...n, age, silent };
  }),
);
</script>

<template>
  <div class="min-h-0 flex-1 overflow-auto" tabindex="0" aria-label="Nodes">
    <table class="w-full text-sm">
      <thead class="text-left text-faint">
        <tr>
          <th class="pr-3 font-normal">Node</th>
          <th class="pr-3 font-normal">Heard</th>
          <th class="pr-3 text-right font-normal">Lost in a day</th>
          <th class="pr-3 text-right font-normal">Signal</th>
          <th class="pr-3 text-right font-normal">Cells</th>
          <th class="text-right font-normal">Days left</th>
        </tr>
      </thead>
      <tbody class="divide-y divide-rule">
        <tr v-for="n in nodes" :key="n.node">
          <td class="py-1 pr-3">{{ n.label }}</td>
          <td class="pr-3 whitespace-nowrap">
            <SeverityMark :severity="n.silent ? 'risk' : 'fine'" />
            {{ n.age === undefined ? "never" : `${ageText(n.age)} ago` }}
          </td>
          <td class="mono pr-3 text-right whitespace-nowrap">
            {{ n.lostPercent === null ? "cannot be seen" : `${n.lostPercent.toFixed(1)} %` }}
          </td>
          <td class="mono pr-3 text-right whitespace-nowrap">{{ n.rssi === null ? "" : `${n.rssi.toFixed(0)} dBm` }}</td>
          <td class="mono pr-3 text-right whitespace-nowrap">{{ n.volts === null ? "" : `${n.volts.toFixed(2)} V` }}</td>
          <td class="text-right whitespace-nowrap"><FigureView v-if="n.daysLeft" :figure="n.daysLeft" /></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
