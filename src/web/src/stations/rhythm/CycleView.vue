<script setup lang="ts">
/** The wake of a node, its readings, and where its charge goes. */
import type { NodeDesign, RhythmPlan } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import CycleStrip from "./CycleStrip.vue";
import DrainsList from "./DrainsList.vue";
import MeasuredCurrents from "./MeasuredCurrents.vue";
import ReadingsTable from "./ReadingsTable.vue";

defineProps<{ node: NodeDesign; plan: RhythmPlan }>();
</script>

<template>
  <CycleStrip :plan="plan" />
  <ReadingsTable class="mt-5" :node="node" :plan="plan" />
  <div class="mt-6 grid gap-x-8 gap-y-6 md:grid-cols-2">
    <section>
      <h2 class="mb-1 text-lg font-semibold">Where the charge goes</h2>
      <DrainsList :plan="plan" />
    </section>
    <section>
      <h2 class="mb-1 text-lg font-semibold">What follows from it</h2>
      <table class="grid-table">
        <tbody>
          <tr v-for="f in plan.figures" :key="f.label">
            <td>{{ f.label }}</td>
            <td class="text-right"><FigureView :figure="f" band /></td>
          </tr>
        </tbody>
      </table>
      <MeasuredCurrents :node="node" />
    </section>
  </div>
</template>
