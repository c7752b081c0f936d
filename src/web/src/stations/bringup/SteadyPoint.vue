<script setup lang="ts">
/** A calibration point: what the sensor shows, whether it has settled, and what it is in truth. Hands-free: taken by itself when it is steady. */
import { computed, ref, toRef, watch } from "vue";
import type { CalibratedReading, CalibrationPoint } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import TextField from "@/kit/TextField.vue";
import { useSteadiness } from "./calibration";

const props = defineProps<{
  node: string;
  reading: CalibratedReading;
  counts: boolean;
  standard?: boolean;
  /** Taken already, and when the last of them was. */
  taken: CalibrationPoint[];
  since?: number;
}>();
/** With the moment up to which the sensor showed this point; none for one that was typed. */
const emit = defineEmits<{ take: [point: CalibrationPoint, at?: number] }>();
const truth = ref<number | "">("");
const typed = ref<number | "">("");
/** Of a standard solution. */
const celsius = ref<number | "">("");
const missing = computed(() => truth.value === "" || (props.standard && celsius.value === ""));
const alone = ref(false);
const live = computed(() => !props.counts);
const query = useSteadiness(
  toRef(props, "node"),
  computed(() => props.reading.reading),
  live,
  toRef(props, "taken"),
  toRef(props, "since"),
);
const shows = computed(() => query.data.value);
const steady = computed(() => shows.value?.steadiness);
const digits = computed(() => Math.max(props.reading.decimals + 1, 2));
const said = computed(() => {
  const s = steady.value;
  if (!s) return "nothing came yet";
  if (s.steady && !s.anew) return "has not moved since the last point";
  if (s.steady) return `steady over ${s.count} values`;
  if (s.count < s.wanted) return `${s.count} of ${s.wanted} values`;
  return `drifts ${s.driftPerMinute.toFixed(digits.value)} ${props.reading.unit} a minute`;
});

function take() {
  if (missing.value) return;
  const s = steady.value;
  const point = { reference: truth.value as number, celsius: celsius.value === "" ? null : celsius.value };
  if (typed.value !== "") emit("take", { ...point, raw: typed.value, spread: 0, count: 1 });
  else if (s) emit("take", { ...point, raw: s.mean, spread: s.spread, count: s.count }, shows.value?.newestMs ?? props.since);
  else return;
  [truth.value, typed.value, alone.value] = ["", "", false];
}
watch([steady, alone], () => {
  if (alone.value && !missing.value && steady.value?.steady && steady.value.anew) take();
});
</script>

<template>
  <div class="flex flex-col gap-2 border border-rule p-3" data-point>
    <p v-if="live" class="flex flex-wrap items-baseline gap-x-3" aria-live="polite">
      <span class="caps">Shows</span>
      <span class="mono text-xl font-semibold">{{ shows?.raw?.toFixed(digits) ?? "–" }} {{ reading.unit }}</span>
      <span :class="steady?.steady && steady.anew ? 'font-semibold text-moss' : 'text-faint'">{{ said }}</span>
    </p>
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <div class="grid grid-cols-2 gap-3">
      <TextField
        v-model="truth"
        number
        :label="standard ? 'At 25 °C' : 'In truth'"
        :hint="counts ? `amount, in ${reading.unit || 'the unit'}` : reading.unit"
        inputmode="decimal"
      />
      <TextField
        v-model="typed"
        number
        :label="counts ? 'Counted' : 'Or typed'"
        :hint="counts ? 'pulses' : 'what it showed'"
        inputmode="decimal"
      />
      <TextField v-if="standard" v-model="celsius" number label="The standard is at" hint="°C" inputmode="decimal" />
    </div>
    <CheckBox
      v-if="live"
      v-model="alone"
      label="Take it by itself when it is steady"
      :hint="
        taken.length ? 'Once it has moved and settled anew. Both hands are free meanwhile.' : 'Both hands are free meanwhile.'
      "
      :disabled="missing"
    />
    <div>
      <AppButton class="min-h-11" :disabled="missing || (typed === '' && !steady)" @click="take">Take this point</AppButton>
    </div>
  </div>
</template>
