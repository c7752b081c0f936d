<script setup lang="ts">
/** A serial line: its port, how its frames are written, and a try on pasted bytes before it is kept. */
import { computed, ref } from "vue";
import { api, sentence, type FrameFormat, type SerialLineDesign, type TriedFrames } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import TextField from "@/kit/TextField.vue";
import FrameFields, { type FieldRow } from "./FrameFields.vue";

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
    scale: f.scale ?? 1,
    offset: f.offset ?? 0,
  })),
);
const framed = computed(() => form.value.kind === "binary" || form.value.kind === "lengthPrefixed");
const unguarded = computed(() => !framed.value || form.value.check === "none");
const bytes = ref("");
const asText = ref(!framed.value);
const tried = ref<TriedFrames>();
const fault = ref("");
const tryFault = ref("");

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

async function tryIt() {
  const { data, error } = await api.POST("/api/sites/{site}/lines/try", {
    params: { path: { site: site.key.value } },
    body: { format: format.value, bytes: bytes.value, asText: asText.value },
  });
  tried.value = data;
  tryFault.value = data ? "" : sentence(error);
}

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
  else fault.value = done.reasons.join(" ");
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
    @close="$emit('close')"
    @save="save"
  >
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.label" label="Name" />
      <TextField v-model="form.port" label="Port" mono hint="A device, or tcp://HOST:PORT." />
      <TextField v-model="form.baud" label="Speed, baud" number />
    </div>
    <CheckBox v-model="form.open" label="Keep it open" />
    <FormField v-slot="{ id }" label="Frames">
      <SelectBox :id="id" v-model="form.kind" label="Frames" :options="kinds" />
    </FormField>
    <div v-if="framed" class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.start" label="Start bytes, hex" mono hint="Empty: none." />
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
    <TextField v-if="form.kind === 'separatedValues'" v-model="form.separator" label="Separator" mono />
    <FormField
      v-if="form.kind === 'lengthPrefixed'"
      v-slot="{ id }"
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
    <section class="border-t border-rule pt-3">
      <h3 class="mb-1 font-semibold">Try it</h3>
      <FormField v-slot="{ id, described }" label="Bytes" :fault="tryFault">
        <textarea
          :id="id"
          v-model="bytes"
          rows="2"
          class="field mono w-full"
          :aria-describedby="described"
          :placeholder="asText ? 'Paste what the bridge writes' : '7E 0A …'"
        />
      </FormField>
      <div class="mt-2 flex flex-wrap items-center gap-4">
        <CheckBox v-model="asText" label="It is text, not hexadecimal digits" />
        <AppButton small @click="tryIt">Read the bytes</AppButton>
      </div>
      <div v-if="tried" class="mt-2" aria-live="polite">
        <p>
          <strong>{{ tried.frames.filter((f) => !f.refusal).length }}</strong>
          {{ tried.frames.filter((f) => !f.refusal).length === 1 ? "frame" : "frames" }}, {{ tried.skipped }} B belong to none,
          {{ tried.waiting }} B wait for more. A frame has up to {{ tried.longestFrame }} B.
        </p>
        <ol class="mt-1 flex max-h-48 flex-col gap-1 overflow-y-auto">
          <li v-for="(f, at) in tried.frames" :key="at" class="flex flex-wrap gap-x-3">
            <span class="mono max-w-full overflow-hidden text-sm text-ellipsis text-faint">{{ asText ? f.text : f.hex }}</span>
            <span v-if="f.refusal" class="text-stop">{{ f.refusal }}</span>
            <span v-for="v in f.values" :key="v.reading" class="mono"
              >{{ v.node }}/{{ v.reading }} = {{ v.value }} {{ v.unit }}</span
            >
          </li>
        </ol>
      </div>
    </section>
    <p v-if="fault" class="text-sm text-stop" role="alert">{{ fault }}</p>
    <AppButton v-if="line" kind="grave" small class="self-start" @click="remove">Remove the line</AppButton>
  </DialogForm>
</template>
