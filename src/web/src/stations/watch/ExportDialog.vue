<script setup lang="ts">
/** Any stretch of any readings as a file: a table for a spreadsheet, or SenML for a program. */
import { computed, ref } from "vue";
import { useSite } from "@/app/site";
import AppDialog from "@/kit/AppDialog.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { derivedNode } from "./derived";

const props = defineProps<{ now: number }>();
defineEmits<{ close: [] }>();
const site = useSite();
const day = 86_400_000;
const date = (ms: number) => new Date(ms).toISOString().slice(0, 10);
const form = ref({ from: date(props.now - day), to: date(props.now), node: null as string | null, format: "csv" });
const nodes = computed(() => [
  { value: null as string | null, label: "all nodes" },
  ...(site.design.value?.nodes ?? [])
    .filter((n) => n.readings.length)
    .map((n) => ({ value: n.key as string | null, label: n.label })),
  ...(site.design.value?.derived?.length ? [{ value: derivedNode as string | null, label: "what is worked out" }] : []),
]);
const formats = [
  { value: "csv", label: "table (CSV)" },
  { value: "senml", label: "SenML in JSON (RFC 8428)" },
];
/** From the start of the first day to the end of the last, UTC. */
const range = computed(() => ({ from: Date.parse(form.value.from), to: Date.parse(form.value.to) + day }));
const fault = computed(() => {
  const { from, to } = range.value;
  return Number.isNaN(from) || Number.isNaN(to) ? "Choose both days." : to <= from ? "The last day lies before the first." : "";
});
const address = computed(() => {
  const node = form.value.node;
  const keys = node === derivedNode ? site.design.value?.derived : site.node(node ?? undefined)?.readings;
  const wanted = (keys ?? []).map((r) => `&reading=${node}/${r.key}`);
  return `/api/sites/${site.key.value}/samples/${form.value.format}?from=${range.value.from}&to=${range.value.to}${wanted.join("")}`;
});
</script>

<template>
  <AppDialog open title="Save a stretch as a file" @close="$emit('close')">
    <div class="flex flex-col gap-3">
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField v-model="form.from" label="First day" type="date" :fault="fault" />
        <TextField v-model="form.to" label="Last day" type="date" />
        <FormField v-slot="{ id }" label="Of"><SelectBox :id="id" v-model="form.node" :options="nodes" label="Of" /></FormField>
        <FormField v-slot="{ id }" label="As"
          ><SelectBox :id="id" v-model="form.format" :options="formats" label="As"
        /></FormField>
      </div>
      <p class="text-sm text-faint">
        Days and times are UTC. Values of a faulty sensor are marked in the table and left out of SenML, which has no mark for
        them.
      </p>
      <div>
        <a
          v-if="!fault"
          :href="address"
          download
          class="inline-flex min-h-11 items-center rounded-sm bg-act px-3 font-semibold text-onact hover:opacity-90"
          >Save the file</a
        >
      </div>
    </div>
  </AppDialog>
</template>
