<script setup lang="ts">
/** The readings of a node: when, how many together, how late they come; all editable in place. */
import { ref } from "vue";
import type { NodeDesign, ReadingDesign, RhythmPlan } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CellField from "@/kit/CellField.vue";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import SelectBox from "@/kit/SelectBox.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { exactDuration } from "@/kit/format";
import OutputDialog from "./OutputDialog.vue";
import ReadingDialog from "./ReadingDialog.vue";
import { loads } from "./outputs";
import { gap, useReadingEdits } from "./reading-edits";

const props = defineProps<{ node: NodeDesign; plan: RhythmPlan }>();
const site = useSite();
const { every, together, expected, within, when } = useReadingEdits(site, () => props.node.key);
const adding = ref(false);
const limiting = ref<ReadingDesign>();
const isOutput = (r: ReadingDesign) =>
  site.catalogue.value?.parts.find((c) => c.id === props.node.parts.find((p) => p.key === r.part)?.part)?.kind === "output";
const timing = (key: string) => props.plan.readings.find((r) => r.reading === key);
const partOf = (r: ReadingDesign) => props.node.parts.find((p) => p.key === r.part)?.label ?? r.part;
const times = (text: string | null | undefined) => (text == null ? "" : text);
/** Counted pulses come by events too, though they are sent by the clock. */
const counts = (r: ReadingDesign) =>
  site.catalogue.value?.parts
    .find((c) => c.id === props.node.parts.find((p) => p.key === r.part)?.part)
    ?.quantities.find((q) => q.quantity === r.quantity)?.kind === "counter";
const isLate = (r: ReadingDesign) => timing(r.key)?.isLate === true;
const whens = [
  { value: "clock" as const, label: "by the clock" },
  { value: "change" as const, label: "when it changes" },
];

async function remove(r: ReadingDesign) {
  await site.apply(`${r.label} removed; what was stored stays`, [{ kind: "removeReading", node: props.node.key, key: r.key }]);
}
</script>

<template>
  <section>
    <div class="mb-1 flex items-end justify-between">
      <h2 class="text-lg font-semibold">Readings</h2>
      <AppButton v-if="site.canWrite.value && node.parts.length" small data-new @click="adding = true">New reading</AppButton>
    </div>
    <EmptyState
      v-if="!node.readings.length"
      title="It reads nothing yet"
      text="A reading is one quantity from one part: how often it is taken decides how long the battery lasts."
    />
    <div v-else class="overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Reading</th>
            <th>When, and how often</th>
            <th>Sent together</th>
            <th class="text-right">Late usually</th>
            <th class="text-right">At most</th>
            <th>Wanted within</th>
            <th><span class="sr-only">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in node.readings" :key="r.key">
            <td>
              {{ r.label }}<span class="block text-sm text-faint">{{ r.quantity }}, {{ partOf(r) }}</span>
              <AppButton
                v-if="isOutput(r)"
                kind="bare"
                small
                class="-ml-2"
                :disabled="!site.canWrite.value"
                :aria-label="`What ${r.label} switches`"
                @click="limiting = r"
                >{{
                  r.output
                    ? `switches ${loads.find((l) => l.value === r.output!.load)?.label}, ${exactDuration(r.output.maxOnMs)} at most`
                    : "say what it switches"
                }}</AppButton
              >
            </td>
            <td>
              <div class="flex gap-1">
                <SelectBox
                  class="w-36 shrink-0"
                  :model-value="r.intervalMs !== null ? 'clock' : 'change'"
                  :options="whens"
                  :disabled="!site.canWrite.value"
                  :label="`When ${r.label} is taken`"
                  @update:model-value="(w) => when(r, w)"
                />
                <div class="w-24">
                  <CellField
                    :text="gap(r) === null ? '' : exactDuration(gap(r)!)"
                    :placeholder="r.intervalMs === null ? 'no limit' : ''"
                    :disabled="!site.canWrite.value"
                    :label="r.intervalMs === null ? `Longest silence of ${r.label}` : `Interval of ${r.label}`"
                    :take="(t) => every(r, t)"
                  />
                </div>
              </div>
              <p v-if="r.intervalMs !== null && timing(r.key)?.intervalMs !== r.intervalMs" class="text-sm text-faint">
                comes every {{ exactDuration(timing(r.key)?.intervalMs ?? r.intervalMs) }}, with every
                {{ timing(r.key)?.everyWakes }}th wake
              </p>
            </td>
            <td>
              <div v-if="r.intervalMs !== null" class="w-16">
                <CellField
                  :text="String(r.batchOf)"
                  :disabled="!site.canWrite.value"
                  :label="`Readings of ${r.label} sent together`"
                  :take="(t) => together(r, t)"
                />
              </div>
              <div v-if="r.intervalMs === null || counts(r)" class="flex items-center gap-1.5">
                <div class="w-16">
                  <CellField
                    :text="times(r.perDay?.toString())"
                    :placeholder="r.intervalMs === null ? '24' : '100'"
                    :disabled="!site.canWrite.value"
                    :label="`${r.intervalMs === null ? 'Changes' : 'Pulses'} of ${r.label} expected a day`"
                    :take="(t) => expected(r, t)"
                  />
                </div>
                <span class="text-sm text-faint">a day</span>
              </div>
            </td>
            <td class="text-right"><FigureView v-if="timing(r.key)" :figure="timing(r.key)!.usualLateness" /></td>
            <td class="text-right">
              <SeverityMark v-if="isLate(r)" severity="risk" class="mr-1" /><FigureView
                v-if="timing(r.key)"
                :figure="timing(r.key)!.lateness"
              />
            </td>
            <td>
              <div class="w-24">
                <CellField
                  :text="r.wantedWithinMs == null ? '' : exactDuration(r.wantedWithinMs)"
                  placeholder="any time"
                  :disabled="!site.canWrite.value"
                  :label="`${r.label} wanted within`"
                  :take="(t) => within(r, t)"
                />
              </div>
            </td>
            <td class="text-right">
              <AppButton v-if="site.canWrite.value" kind="bare" small :aria-label="`Remove ${r.label}`" @click="remove(r)"
                >Remove</AppButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <OutputDialog v-if="limiting" :node="node" :reading="limiting" @close="limiting = undefined" />
    <ReadingDialog v-if="adding" :node="node" @close="adding = false" />
  </section>
</template>
