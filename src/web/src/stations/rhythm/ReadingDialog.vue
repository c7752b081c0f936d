<script setup lang="ts">
/** A new reading: which quantity of which part, and when. */
import { computed, ref } from "vue";
import type { NodeDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import TextField from "@/kit/TextField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { parseDuration } from "@/kit/format";
import { noTime, type Fault } from "@/kit/faults";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const sources = computed(() =>
  props.node.parts.flatMap((p) =>
    (site.catalogue.value?.parts.find((c) => c.id === p.part)?.quantities ?? []).map((q) => ({
      value: `${p.key}/${q.quantity}`,
      label: `${p.label}: ${q.quantity}`,
      part: p,
      quantity: q,
    })),
  ),
);
const form = ref({ label: "", source: sources.value[0]?.value ?? "", when: "interval" as "interval" | "change", every: "1 min" });
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const source = sources.value.find((s) => s.value === form.value.source);
  const ms = parseDuration(form.value.every);
  if (!ms)
    faults.value = [noTime(form.value.every, form.value.when === "interval" ? "reading.intervalMs" : "reading.heartbeatMs")];
  if (!ms || !source) return;
  const key = keyFrom(
    form.value.label || `${source.part.key}-${source.quantity.quantity}`,
    props.node.readings.map((r) => r.key),
  );
  const byClock = form.value.when === "interval";
  const reading = {
    key,
    label: form.value.label.trim(),
    part: source.part.key,
    quantity: source.quantity.quantity,
    intervalMs: byClock ? ms : null,
    heartbeatMs: byClock ? null : ms,
    decimals: source.quantity.kind === "gauge" ? 1 : 0,
    batchOf: 1,
  };
  const done = await site.apply(`${reading.label} added`, [{ kind: "putReading", node: props.node.key, reading }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    title="New reading"
    save="Add the reading"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <FormField v-slot="{ id }" label="Of"><SelectBox :id="id" v-model="form.source" :options="sources" label="Of" /></FormField>
    <TextField v-model="form.label" label="Name" field="reading.label" />
    <FormField v-slot="{ id }" label="When"
      ><SelectBox
        :id="id"
        v-model="form.when"
        :options="[
          { value: 'interval', label: 'by the clock' },
          { value: 'change', label: 'when it changes' },
        ]"
        label="When"
    /></FormField>
    <TextField
      v-model="form.every"
      :label="form.when === 'interval' ? 'Every' : 'And at least every'"
      mono
      :field="form.when === 'interval' ? 'reading.intervalMs' : 'reading.heartbeatMs'"
    />
  </DialogForm>
</template>
