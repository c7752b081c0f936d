<script setup lang="ts">
/** A calibration is made: how, its points, what comes out of them, and from when on it holds. */
import { computed, ref, watch } from "vue";
import {
  api,
  sentence,
  type CalibratedReading,
  type CalibrationKind,
  type CalibrationPoint,
  type RecomputeView,
} from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import SteadyPoint from "./SteadyPoint.vue";
import { kinds } from "./calibration";

const props = defineProps<{ node: string; reading: CalibratedReading; onNode?: boolean }>();
const emit = defineEmits<{ close: []; begun: [work: RecomputeView] }>();
const site = useSite();
const form = ref({
  kind: props.reading.kinds[0]! as CalibrationKind,
  referenceError: "" as number | "",
  against: "",
  from: "now" as "now" | "all" | "day",
  day: "",
  due: 12 as number | null,
});
const points = ref<CalibrationPoint[]>([]);
/** When the last of them was taken, by the site's time: what the sensor showed before is of that point. */
const takenAt = ref<number>();
const made = ref<{ formula: string; uncertainty: number; residual: number | null }>();
const fault = ref("");
const busy = ref(false);
const more = ref(false);
const kind = computed(() => kinds[form.value.kind]);
const kindOptions = computed(() => props.reading.kinds.map((k) => ({ value: k, label: kinds[k].label })));
const everyFrom = [
  { value: "now" as const, label: "what comes from now on" },
  { value: "day" as const, label: "everything since a day" },
  { value: "all" as const, label: "everything it ever measured" },
];
/** What a node corrects itself holds from now on. */
const fromOptions = props.onNode ? everyFrom.slice(0, 1) : everyFrom;
const dueOptions = [
  { value: 6 as number | null, label: "in 6 months" },
  { value: 12 as number | null, label: "in a year" },
  { value: 24 as number | null, label: "in two years" },
  { value: null as number | null, label: "never" },
];
const number = (value: number) => value.toFixed(Math.max(props.reading.decimals + 1, 2));
const request = computed(() => ({
  reading: props.reading.reading,
  kind: form.value.kind,
  points: points.value,
  referenceError: form.value.referenceError || 0,
  against: form.value.against,
  fromMs: form.value.from === "all" ? 0 : form.value.from === "day" && form.value.day ? Date.parse(form.value.day) : null,
  dueMonths: form.value.due,
}));
const enough = computed(() => points.value.length >= kind.value.least && points.value.length <= kind.value.most);
const path = computed(() => ({ site: site.key.value, node: props.node }));

function take(point: CalibrationPoint, at?: number) {
  points.value.push(point);
  more.value = false;
  takenAt.value = at ?? takenAt.value;
}

watch([points, () => form.value.kind, () => form.value.referenceError], () => void attempt(), { deep: true });
async function attempt() {
  made.value = undefined;
  fault.value = "";
  if (!enough.value) return;
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/calibrations/try", {
    params: { path: path.value },
    body: { ...request.value, fromMs: null },
  });
  if (data)
    made.value = { formula: data.formula, uncertainty: data.calibration.uncertainty, residual: data.calibration.residual };
  else fault.value = sentence(error);
}
async function save() {
  if (form.value.from === "day" && !form.value.day) {
    fault.value = "Choose the day from which on it holds.";
    return;
  }
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/calibrations", {
    params: { path: path.value },
    body: request.value,
  });
  busy.value = false;
  if (data) emit("begun", data);
  else fault.value = sentence(error);
}
</script>

<template>
  <AppDialog open :title="`Calibrate ${reading.label}`" @close="$emit('close')">
    <div class="flex flex-col gap-3">
      <FormField v-slot="{ id }" label="How" :hint="kind.how"
        ><SelectBox :id="id" v-model="form.kind" :options="kindOptions" label="How"
      /></FormField>
      <ol v-if="points.length" class="divide-y divide-rule border-y border-rule">
        <li v-for="(p, at) in points" :key="at" class="flex min-h-11 items-center gap-2">
          <span class="flex-1"
            >showed <span class="mono">{{ number(p.raw) }}</span><span v-if="p.count > 1" class="text-sm text-faint">
              ±{{ number(p.spread) }} of {{ p.count }}</span
            >, is <span class="mono">{{ p.reference }} {{ reading.unit }}</span
            ><template v-if="p.celsius !== null && p.celsius !== undefined"> at 25 °C, it has {{ p.celsius }} °C</template></span
          >
          <AppButton small @click="points.splice(at, 1)">Remove</AppButton>
        </li>
      </ol>
      <SteadyPoint
        v-if="points.length < kind.least || (more && points.length < kind.most)"
        :node="node"
        :reading="reading"
        :counts="form.kind === 'scale'"
        :standard="form.kind === 'standard'"
        :taken="points"
        :since="takenAt"
        @take="take"
      />
      <div v-else-if="points.length < kind.most">
        <AppButton small @click="more = true">Another point</AppButton>
      </div>
      <p v-if="!enough" class="text-sm text-faint">
        {{ points.length }} of {{ kind.least }} {{ kind.least === 1 ? "point" : "points" }} taken.
      </p>
      <div v-if="made" class="border-l-2 border-moss pl-3" data-made>
        <p class="mono">{{ made.formula }}</p>
        <p>
          <template v-if="made.uncertainty > 0">Good for ±{{ number(made.uncertainty) }} {{ reading.unit }} (k = 2)</template
          ><template v-else>How good it is depends on the reference: say below how good that is</template
          ><template v-if="made.residual !== null"
            >; the points lie {{ number(made.residual) }} {{ reading.unit }} off it</template
          >. Beyond the points it is a guess.
        </p>
      </div>
      <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
      <template v-if="made">
        <div class="grid gap-3 sm:grid-cols-2">
          <TextField v-model="form.against" label="Held against" hint="The reference, in your words." maxlength="200" />
          <TextField v-model="form.referenceError" number label="It is good for ±" :hint="reading.unit" inputmode="decimal" />
          <FormField v-slot="{ id }" label="Corrects"
            ><SelectBox :id="id" v-model="form.from" :options="fromOptions" label="Corrects"
          /></FormField>
          <TextField v-if="form.from === 'day'" v-model="form.day" label="Day (UTC)" type="date" />
          <FormField v-slot="{ id }" label="Due again"
            ><SelectBox :id="id" v-model="form.due" :options="dueOptions" label="Due again"
          /></FormField>
        </div>
        <div class="flex gap-2">
          <AppButton kind="lead" class="min-h-11" :disabled="busy" @click="save">Put it in force</AppButton>
          <AppButton class="min-h-11" @click="$emit('close')">Cancel</AppButton>
        </div>
      </template>
    </div>
  </AppDialog>
</template>
