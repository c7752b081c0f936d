<script setup lang="ts">
/** What an output switches and how long it may be on: the node counts that time itself. */
import { ref } from "vue";
import type { NodeDesign, OutputDesign, ReadingDesign } from "@/api/client";
import { useSite } from "@/app/site";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import { exactDuration, parseDuration } from "@/kit/format";
import { noTime, type Fault } from "@/kit/faults";
import { loads } from "./outputs";

const props = defineProps<{ node: NodeDesign; reading: ReadingDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const old = props.reading.output;
const form = ref({
  load: old?.load ?? ("other" as OutputDesign["load"]),
  most: exactDuration(old?.maxOnMs ?? site.usual.value.outputMaxOnMs),
  silent: old?.serverSilentMs ? exactDuration(old.serverSilentMs) : "",
});
const faults = ref<Fault[]>([]);

async function save() {
  faults.value = [];
  const [most, silent] = [parseDuration(form.value.most), form.value.silent.trim() ? parseDuration(form.value.silent) : null];
  if (!most || silent === undefined) {
    faults.value = [
      ...(most ? [] : [noTime(form.value.most, "reading.output.maxOnMs")]),
      ...(silent === undefined ? [noTime(form.value.silent, "reading.output.serverSilentMs")] : []),
    ];
    return;
  }
  const output = { load: form.value.load, maxOnMs: most, serverSilentMs: silent };
  const done = await site.apply(
    `${props.reading.label}: on for ${exactDuration(most)} at most`,
    [{ kind: "putReading", node: props.node.key, reading: { ...props.reading, output } }],
    true,
  );
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm :title="reading.label" save="Save" :busy="site.busy.value" :faults="faults" @close="$emit('close')" @save="save">
    <FormField v-slot="{ id }" label="It switches"
      ><SelectBox :id="id" v-model="form.load" :options="loads" label="It switches"
    /></FormField>
    <TextField
      v-model="form.most"
      label="On for at most"
      field="reading.output.maxOnMs"
      mono
      hint="The node counts this itself, whatever it is told."
    />
    <TextField
      v-model="form.silent"
      label="On by itself when the server is silent for"
      field="reading.output.serverSilentMs"
      mono
      hint="Leave it empty for never. For a sounder that tells that nobody watches any more."
    />
    <p class="text-sm text-faint">
      Never the only safety cut-off of a heater, motor or machine: a certified limiter stands beside it. Mains by a competent
      person, to local code; for sounders outdoors local rules say how long.
    </p>
  </DialogForm>
</template>
