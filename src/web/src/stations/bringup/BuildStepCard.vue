<script setup lang="ts">
/** One step: its lines, its caution, and large answers that need no typing. */
import { computed, ref } from "vue";
import type { BuildStepView, BuildTick } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import TextField from "@/kit/TextField.vue";
import { amount, moment, unbroken } from "@/kit/format";
import { insulation } from "../bench/insulation";

const props = defineProps<{ view: BuildStepView; at: number; zone: string; canWrite: boolean; busy: boolean }>();
const emit = defineEmits<{ tick: [change: Partial<BuildTick>] }>();
const value = ref<number | "">("");
const step = computed(() => props.view.step);
const measure = computed(() => step.value.measure);
const say = (v: number) => amount(v, measure.value?.expected.unit ?? "").join(" ");
const band = computed(() => {
  const e = measure.value?.expected;
  if (!e) return "";
  const low = amount(e.low ?? e.value ?? 0, e.unit);
  if (e.high === null) return `more than ${low.join(" ")}`;
  const high = amount(e.high, e.unit);
  return `${low[1] === high[1] ? low[0] : low.join(" ")} to ${high.join(" ")}`;
});
const shown = computed(() => (props.view.value === null ? "" : say(props.view.value)));
const what: Record<string, string> = {
  supplyVolts: "the voltage",
  shortOhms: "the resistance",
  pullUpOhms: "the resistance",
  currentMilliamps: "the current",
};
function take() {
  if (value.value === "") return;
  emit("tick", { value: value.value });
  value.value = "";
}
</script>

<template>
  <article class="border border-rule bg-sheet p-4">
    <p class="caps flex items-center gap-2">
      Step {{ at }}
      <template v-if="view.done"><SeverityMark severity="fine" /><span>done</span></template>
      <span v-if="view.atMs && view.who" class="normal-case text-faint"
        >{{ moment(view.atMs, zone, true) }} by {{ view.who }}</span
      >
    </p>
    <h2 class="mb-2 text-xl font-semibold">{{ step.title }}</h2>
    <p v-if="step.caution" class="mb-3 border-l-4 border-risk pl-3">{{ step.caution }}</p>
    <ul class="mb-3 flex flex-col gap-1.5 text-lg leading-snug">
      <li v-for="(l, i) in step.lines" :key="i" class="flex gap-2">
        <span
          v-if="l.colour"
          class="mt-1.5 h-3 w-6 shrink-0 border border-faint"
          :style="{ background: insulation(l.colour) }"
          aria-hidden="true"
        />
        <span v-else class="shrink-0 text-faint" aria-hidden="true">–</span>
        <span class="min-w-0"
          ><template v-if="l.colour"
            ><span class="text-sm text-faint">{{ l.colour }}</span> </template
          >{{ unbroken(l.text) }}</span
        >
      </li>
    </ul>
    <template v-if="measure">
      <p class="mb-1">{{ measure.how }}</p>
      <p class="mb-3 flex flex-wrap items-baseline gap-x-3">
        <span class="caps">Expected</span>
        <span class="mono text-2xl font-semibold">{{ band }}</span>
        <FigureView :figure="measure.expected" class="text-sm text-faint" />
      </p>
      <p v-if="shown" class="mb-2">
        Measured <span class="mono font-semibold">{{ shown }}</span>
      </p>
      <FindingCard v-if="view.finding" :finding="view.finding" class="mb-3" />
    </template>
    <div v-if="canWrite" class="flex flex-col gap-3">
      <template v-if="view.done">
        <AppButton class="min-h-12" :disabled="busy" @click="emit('tick', { done: false })">Not done after all</AppButton>
      </template>
      <AppButton v-else-if="!measure" kind="lead" class="min-h-14 text-lg" :disabled="busy" @click="emit('tick', {})">
        {{ step.wires.length ? "Soldered" : "Done" }}
      </AppButton>
      <template v-else>
        <div class="grid grid-cols-2 gap-2" role="group" :aria-label="`What ${what[measure.kind]} is`">
          <AppButton
            kind="lead"
            class="col-span-2 min-h-14 justify-center text-lg"
            :disabled="busy"
            @click="emit('tick', { shows: 'within' })"
            >Within that</AppButton
          >
          <AppButton class="min-h-12" :disabled="busy" @click="emit('tick', { shows: 'below' })">Less</AppButton>
          <AppButton
            v-if="measure.expected.high !== null"
            class="min-h-12"
            :disabled="busy"
            @click="emit('tick', { shows: 'above' })"
            >More</AppButton
          >
          <AppButton
            v-if="measure.kind === 'supplyVolts' || measure.kind === 'currentMilliamps'"
            class="col-span-2 min-h-12"
            :disabled="busy"
            @click="emit('tick', { shows: 'nothing' })"
            >Nothing at all</AppButton
          >
        </div>
        <form class="flex items-end gap-2" novalidate @submit.prevent="take">
          <TextField
            v-model="value"
            number
            :label="`Or its value, ${measure.expected.unit}`"
            inputmode="decimal"
            class="min-h-12"
          />
          <AppButton type="submit" class="min-h-12" :disabled="busy || value === ''">Note it</AppButton>
        </form>
        <AppButton
          v-if="view.finding && view.finding.severity !== 'stop'"
          class="min-h-12"
          :disabled="busy"
          @click="emit('tick', { shows: view.shows, value: view.value, anyway: true })"
          >Go on all the same</AppButton
        >
      </template>
    </div>
  </article>
</template>
