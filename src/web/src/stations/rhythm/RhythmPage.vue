<script setup lang="ts">
/** When a node reads and sends, what that costs, and how long it lasts. */
import { computed } from "vue";
import { useSite } from "@/app/site";
import { duration } from "@/kit/format";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import PageHead from "@/kit/PageHead.vue";
import NodeTabs from "../bench/NodeTabs.vue";
import CycleStrip from "./CycleStrip.vue";
import MeasuredCurrents from "./MeasuredCurrents.vue";
import ReadingsTable from "./ReadingsTable.vue";
import { useNodeInHand } from "../bench/node";

const site = useSite();
const { node, plan: whole } = useNodeInHand("rhythm");
const plan = computed(() => whole.value?.rhythm);
const biggest = computed(() => plan.value?.drains.filter((d) => d.share >= 0.005).slice(0, 6) ?? []);
</script>

<template>
  <PageHead title="Rhythm" asks="How often do I read and send, and how long does the battery last?" />
  <NodeTabs station="rhythm" />
  <EmptyState
    v-if="!site.design.value?.nodes.length"
    title="No nodes yet"
    text="Add a node at the Bench; its rhythm is worked out from its parts."
  >
    <RouterLink :to="`/${site.key.value}/bench`" class="text-act underline">To the Bench</RouterLink>
  </EmptyState>
  <template v-else-if="node && plan">
    <dl class="mb-4 flex flex-wrap gap-x-10 gap-y-3">
      <div v-if="plan.life">
        <dt class="caps">Battery life</dt>
        <dd><FigureView :figure="plan.life" big band /></dd>
      </div>
      <div>
        <dt class="caps">Average current</dt>
        <dd><FigureView :figure="plan.average" :big="!plan.life" band /></dd>
      </div>
      <div>
        <dt class="caps">Charge a cycle</dt>
        <dd><FigureView :figure="plan.charge" band /></dd>
      </div>
      <div>
        <dt class="caps">Cycle</dt>
        <dd class="mono">{{ duration(plan.periodMs) }}</dd>
        <dd class="text-sm text-faint">{{ plan.sleeps ? "asleep in between" : "always on" }}</dd>
      </div>
    </dl>
    <CycleStrip :plan="plan" />
    <div class="mt-6 grid grid-cols-1 gap-6 2xl:grid-cols-[minmax(0,1fr)_20rem]">
      <ReadingsTable :node="node" :plan="plan" />
      <section>
        <h2 class="mb-1 text-lg font-semibold">Where the charge goes</h2>
        <table class="w-full">
          <tbody>
            <tr v-for="d in biggest" :key="d.label">
              <td class="py-1 pr-2">
                {{ d.label }}
                <svg viewBox="0 0 100 3" preserveAspectRatio="none" class="mt-0.5 h-1.5 w-full" aria-hidden="true">
                  <rect width="100" height="3" fill="var(--rule)" />
                  <rect :width="d.share * 100" height="3" fill="var(--clay)" />
                </svg>
              </td>
              <td class="mono py-1 text-right">{{ Math.round(d.share * 100) }} %</td>
            </tr>
          </tbody>
        </table>
        <MeasuredCurrents :node="node" />
      </section>
    </div>
  </template>
</template>
