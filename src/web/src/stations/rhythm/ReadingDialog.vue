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
const fault = ref("");
const timeFault = ref("");

async function save() {
  const source = sources.value.find((s) => s.value === form.value.source);
  const ms = parseDuration(form.value.every);
  timeFault.value = ms ? "" : `"${form.value.every}" is no time; write it like 30 s, 5 min or 2 h.`;
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
  else fault.value = done.reasons.join(" ");
}
</script>

<template>
  <DialogForm title="New reading" save="Add the reading" :busy="site.busy.value" @close="$emit('close')" @save="save">
    <FormField v-slot="{ id }" label="Of"><SelectBox :id="id" v-model="form.source" :options="sources" label="Of" /></FormField>
    <TextField v-model="form.label" label="Name" :fault="fault" />
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
    <TextField v-model="form.every" :label="form.when === 'interval' ? 'Every' : 'And at least every'" mono :fault="timeFault" />
  </DialogForm>
</template>
