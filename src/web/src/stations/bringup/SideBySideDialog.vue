<script setup lang="ts">
/** A sensor beside a trusted one: how far off it is, and how much of that is the heat of its own node. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type CalibratedReading, type RecomputeView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FigureView from "@/kit/FigureView.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { amount } from "@/kit/format";
import { kinds } from "./calibration";

const props = defineProps<{ node: string; reading: CalibratedReading; others: { value: string; label: string }[] }>();
const emit = defineEmits<{ close: []; begun: [work: RecomputeView] }>();
const site = useSite();
const other = ref(props.others[0]!.value);
const hours = ref(6);
const stretches = [
  { value: 1, label: "the last hour" },
  { value: 6, label: "the last six hours" },
  { value: 24, label: "the last day" },
  { value: 168, label: "the last week" },
];
const query = useQuery({
  queryKey: ["beside", site.key, computed(() => props.node), computed(() => props.reading.reading), other, hours],
  retry: false,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/readings/{reading}/side-by-side", {
        params: {
          path: { site: site.key.value, node: props.node, reading: props.reading.reading },
          query: { other: other.value, hours: hours.value },
        },
      }),
    ),
});
const found = computed(() => query.data.value);
const fault = ref("");
const busy = ref(false);
async function take() {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/calibrations", {
    params: { path: { site: site.key.value, node: props.node } },
    body: {
      reading: props.reading.reading,
      kind: found.value!.kind,
      points: found.value!.points,
      referenceError: 0,
      against: props.others.find((o) => o.value === other.value)!.label,
      fromMs: null,
      dueMonths: 12,
    },
  });
  busy.value = false;
  if (data) emit("begun", data);
  else fault.value = sentence(error);
}
</script>

<template>
  <AppDialog open :title="`${reading.label} beside another`" @close="$emit('close')">
    <div class="flex flex-col gap-3">
      <p class="text-faint">Lay both in the same air or water, out of sun and draught, with the same side up.</p>
      <div class="grid gap-3 sm:grid-cols-2">
        <FormField v-slot="{ id }" label="The trusted one"
          ><SelectBox :id="id" v-model="other" :options="others" label="The trusted one"
        /></FormField>
        <FormField v-slot="{ id }" label="They stood together for"
          ><SelectBox :id="id" v-model="hours" :options="stretches" label="They stood together for"
        /></FormField>
      </div>
      <p v-if="query.isFetching.value" role="status">Comparing…</p>
      <p v-else-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
      <template v-else-if="found">
        <dl class="grid grid-cols-[auto_1fr] items-baseline gap-x-6 gap-y-2" data-beside>
          <template v-for="f in [found.offset, found.gain, found.selfHeating]" :key="f.label">
            <dt>{{ f.label }}</dt>
            <dd><FigureView :figure="f" band /></dd>
          </template>
          <dt>Left over</dt>
          <dd class="mono">±{{ amount(found.spread, reading.unit).join(" ") }}</dd>
        </dl>
        <p class="border-l-2 border-moss pl-3">
          {{ found.moments }} stretches speak for {{ found.kind === "offset" ? "an" : "" }} {{ kinds[found.kind].label
          }}{{ found.kind === "offset" ? ": that it shows too much or too little for each unit is not sure" : "" }}.
        </p>
        <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
        <div class="flex gap-2">
          <AppButton kind="lead" class="min-h-11" :disabled="busy" @click="take">Put it in force</AppButton>
          <AppButton class="min-h-11" @click="$emit('close')">Cancel</AppButton>
        </div>
      </template>
    </div>
  </AppDialog>
</template>
