<script setup lang="ts">
/** The readings of a node, their intervals editable in place. */
import { ref } from "vue";
import type { NodeDesign, ReadingDesign, RhythmPlan } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import { duration, parseDuration } from "@/kit/format";
import ReadingDialog from "./ReadingDialog.vue";

const props = defineProps<{ node: NodeDesign; plan: RhythmPlan }>();
const site = useSite();
const typed = ref<Record<string, string>>({});
const faults = ref<Record<string, string>>({});
const adding = ref(false);
const timing = (key: string) => props.plan.readings.find((r) => r.reading === key);
const partOf = (r: ReadingDesign) => props.node.parts.find((p) => p.key === r.part)?.label ?? r.part;
const wakes = (n: number) => (n === 0 ? "by event" : n === 1 ? "every" : `1 in ${n}`);
const gap = (r: ReadingDesign) => r.intervalMs ?? r.heartbeatMs;

async function change(r: ReadingDesign) {
  const text = typed.value[r.key];
  if (text === undefined) return;
  const ms = parseDuration(text);
  if (!ms) {
    faults.value[r.key] = `"${text}" is no time; write it like 30 s, 5 min or 2 h.`;
    return;
  }
  const reading = r.intervalMs !== null ? { ...r, intervalMs: ms } : { ...r, heartbeatMs: ms };
  const done =
    ms === gap(r)
      ? { ok: true as const }
      : await site.apply(`${r.label}: ${duration(ms)}`, [{ kind: "putReading", node: props.node.key, reading }], true);
  if (done.ok) {
    delete typed.value[r.key];
    delete faults.value[r.key];
  } else faults.value[r.key] = done.reasons.join(" ");
}

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
            <th>When</th>
            <th>Every</th>
            <th class="text-right">Wakes</th>
            <th class="text-right">Late by at most</th>
            <th><span class="sr-only">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in node.readings" :key="r.key">
            <td>
              {{ r.label }}<span class="block text-sm text-faint">{{ r.quantity }}, {{ partOf(r) }}</span>
            </td>
            <td class="text-sm">
              {{
                r.intervalMs !== null
                  ? "by the clock"
                  : r.heartbeatMs !== null
                    ? "on change, and at least every"
                    : "on change only"
              }}
            </td>
            <td>
              <template v-if="gap(r) !== null">
                <input
                  class="field mono w-24"
                  :value="typed[r.key] ?? duration(gap(r)!)"
                  :disabled="!site.canWrite.value"
                  :aria-label="`Interval of ${r.label}`"
                  :aria-invalid="faults[r.key] ? true : undefined"
                  @input="typed[r.key] = ($event.target as HTMLInputElement).value"
                  @change="change(r)"
                />
                <p v-if="faults[r.key]" class="mt-1 max-w-60 text-sm text-stop" role="alert">{{ faults[r.key] }}</p>
              </template>
            </td>
            <td class="text-right whitespace-nowrap">{{ wakes(timing(r.key)?.everyWakes ?? 0) }}</td>
            <td class="text-right"><FigureView v-if="timing(r.key)" :figure="timing(r.key)!.lateness" /></td>
            <td class="text-right">
              <AppButton v-if="site.canWrite.value" kind="bare" small :aria-label="`Remove ${r.label}`" @click="remove(r)"
                >Remove</AppButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ReadingDialog v-if="adding" :node="node" @close="adding = false" />
  </section>
</template>
