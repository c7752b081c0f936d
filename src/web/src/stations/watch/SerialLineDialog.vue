<script setup lang="ts">
/** A serial line: its port, how its frames are written, and a try on pasted bytes before it is kept. */
import { computed, ref } from "vue";
import type { FrameFormat, SerialLineDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import type { Fault } from "@/kit/faults";
import FrameFields, { type FieldRow } from "./FrameFields.vue";
import FrameTrial from "./FrameTrial.vue";

const props = defineProps<{ line?: SerialLineDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const kinds: { value: FrameFormat["kind"]; label: string }[] = [
  { value: "valuePerLine", label: "one number a line: 21.5⏎" },
  { value: "letteredValues", label: "numbers, each with its letter: 21.5t55h" },
  { value: "separatedValues", label: "numbers with a separator: 21.5,55⏎" },
  { value: "binary", label: "binary at fixed places" },
  { value: "lengthPrefixed", label: "a length, then a message" },
];
const checks: { value: FrameFormat["check"]; label: string }[] = [
  { value: "none", label: "none" },
  { value: "ccittFalse", label: "CRC-16 CCITT, begun at FFFF" },
  { value: "xmodem", label: "CRC-16 XMODEM, begun at 0" },
  { value: "modbus", label: "CRC-16 Modbus, low byte first" },
];
const nodes = computed(() => (site.design.value?.nodes ?? []).map((n) => ({ value: n.key, label: n.label })));
const old = props.line?.format;
const form = ref({
  label: props.line?.label ?? "",
  port: props.line?.port ?? "/dev/ttyUSB0",
  baud: (props.line?.baud ?? 9600) as number | string,
  open: props.line?.open ?? true,
  kind: old?.kind ?? ("valuePerLine" as FrameFormat["kind"]),
  separator: old?.separator ?? ",",
  start: old?.start ?? "",
  check: old?.check ?? ("none" as FrameFormat["check"]),
  lengthBytes: old?.lengthBytes ?? 1,
  node: old?.node ?? nodes.value[0]?.value ?? "",
});
const rows = ref<FieldRow[]>(
  (old?.fields ?? []).map((f) => ({
    reading: `${f.node}/${f.reading}`,
    letter: f.letter ?? "",
    number: f.number ?? "i16Be",
    scale: f.scale,
    offset: f.offset,
  })),
);
const framed = computed(() => form.value.kind === "binary" || form.value.kind === "lengthPrefixed");
const unguarded = computed(() => !framed.value || form.value.check === "none");
const faults = ref<Fault[]>([]);

const format = computed<FrameFormat>(() => ({
  kind: form.value.kind,
  fields:
    form.value.kind === "lengthPrefixed"
      ? []
      : rows.value.map((r) => ({
          node: r.reading.split("/")[0]!,
          reading: r.reading.slice(r.reading.indexOf("/") + 1),
          letter: form.value.kind === "letteredValues" ? r.letter : null,
          number: r.number,
          scale: Number(r.scale),
          offset: Number(r.offset),
        })),
  separator: form.value.separator,
  start: framed.value ? form.value.start.replace(/\s/g, "") : "",
  check: framed.value ? form.value.check : "none",
  lengthBytes: form.value.lengthBytes,
  node: form.value.kind === "lengthPrefixed" ? form.value.node : null,
}));

async function save() {
  const taken = (site.design.value?.lines ?? []).map((l) => l.key);
  const line: SerialLineDesign = {
    key: props.line?.key ?? keyFrom(form.value.label, taken),
    label: form.value.label,
    port: form.value.port,
    baud: Number(form.value.baud) || 0,
    format: format.value,
    open: form.value.open,
  };
  const done = await site.apply(`Serial line ${line.label}`, [{ kind: "putLine", line }], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}

async function remove() {
  const done = await site.apply(`Remove serial line ${props.line!.label}`, [{ kind: "removeLine", key: props.line!.key }]);
  if (done.ok) emit("close");
}
</script>

<template>
  <DialogForm
    :title="line ? `Serial line ${line.label}` : 'New serial line'"
    :save="line ? 'Save' : 'Add the line'"
    wide
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.label" label="Name" field="line.label" />
      <TextField v-model="form.port" label="Port" field="line.port" mono hint="A device, or tcp://HOST:PORT." />
      <TextField v-model="form.baud" label="Speed, baud" field="line.baud" number />
    </div>
    <CheckBox v-model="form.open" label="Keep it open" />
    <FormField v-slot="{ id }" label="Frames">
      <SelectBox :id="id" v-model="form.kind" label="Frames" :options="kinds" />
    </FormField>
    <div v-if="framed" class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.start" label="Start bytes, hex" field="line.format.start" mono hint="Empty: none." />
      <FormField v-slot="{ id }" label="Check">
        <SelectBox :id="id" v-model="form.check" label="Check" :options="checks" />
      </FormField>
      <FormField v-if="form.kind === 'lengthPrefixed'" v-slot="{ id }" label="Length">
        <SelectBox
          :id="id"
          v-model="form.lengthBytes"
          label="Length"
          :options="[
            { value: 1, label: '1 byte' },
            { value: 2, label: '2 bytes, high first' },
          ]"
        />
      </FormField>
    </div>
    <TextField
      v-if="form.kind === 'separatedValues'"
      v-model="form.separator"
      label="Separator"
      field="line.format.separator"
      mono
    />
    <FormField
      v-if="form.kind === 'lengthPrefixed'"
      v-slot="{ id }"
      field="line.format.node"
      label="Whose readings"
      hint="A message names them, as over MQTT."
    >
      <SelectBox :id="id" v-model="form.node" label="Whose readings" :options="nodes" />
    </FormField>
    <FrameFields v-else v-model="rows" :kind="form.kind" />
    <p v-if="unguarded" class="border-l-2 border-risk pl-2 text-sm">
      These frames carry no check: noise can pass as a value. What a part cannot measure is refused; the rest cannot be told
      apart.
    </p>
    <FrameTrial :format="format" :framed="framed" />
    <AppButton v-if="line" kind="grave" small class="self-start" @click="remove">Remove the line</AppButton>
  </DialogForm>
</template>
