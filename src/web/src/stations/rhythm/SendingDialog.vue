<script setup lang="ts">
/** How a node sends and keeps time, and what its receiver takes. */
import { ref } from "vue";
import type { NodeDesign, SendDesign } from "@/api/client";
import { useSite } from "@/app/site";
import CheckBox from "@/kit/CheckBox.vue";
import DialogForm from "@/kit/DialogForm.vue";
import TextField from "@/kit/TextField.vue";
import { exactDuration, parseDuration, percentOf } from "@/kit/format";
import { noTime, type Fault } from "@/kit/faults";
import { setNode } from "../bench/node-edits";
import { traitsOf } from "../bench/power";

const props = defineProps<{ node: NodeDesign }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
/** What is advertised gets no answer. */
const { isAdvertised: advertised, isPackets: radio, sending: usualOf } = traitsOf(props.node.link, site.usual.value);
const start = site.nodePlan(props.node.key)?.rhythm.sending ?? usualOf;
const form = ref({
  acknowledged: start.acknowledged,
  mostTries: start.mostTries as number | string,
  repeats: start.repeats as number | string,
  delivered: (start.deliveredShare == null ? "" : percentOf(start.deliveredShare)) as number | string,
  hearsTime: start.hearsTime,
  clockPpm: start.clockPpm as number | string,
  resync: exactDuration(start.resyncMs),
  jitterMs: start.jitterMs as number | string,
  buffer: (start.bufferBytes ?? "") as number | string,
  fields: (start.mostFields ?? "") as number | string,
  spacing: start.leastSpacingMs == null ? "" : exactDuration(start.leastSpacingMs),
});
const faults = ref<Fault[]>([]);
const some = (v: number | string) => (typeof v === "number" ? v : null);

async function save() {
  faults.value = [];
  const f = form.value;
  const resync = parseDuration(f.resync);
  const spacing = f.spacing.trim() === "" ? null : parseDuration(f.spacing);
  if (resync === undefined) faults.value.push(noTime(f.resync, "sending.resyncMs"));
  if (spacing === undefined) faults.value.push(noTime(f.spacing, "sending.leastSpacingMs"));
  if (resync === undefined || spacing === undefined) return;
  const sending: SendDesign = {
    acknowledged: f.acknowledged,
    mostTries: some(f.mostTries) ?? 0,
    deliveredShare: some(f.delivered) === null ? null : Number((some(f.delivered)! / 100).toPrecision(12)),
    hearsTime: f.hearsTime,
    clockPpm: some(f.clockPpm) ?? 0,
    resyncMs: resync,
    jitterMs: some(f.jitterMs) ?? 0,
    bufferBytes: some(f.buffer),
    mostFields: some(f.fields),
    leastSpacingMs: spacing,
    repeats: some(f.repeats) ?? 0,
  };
  // A node without a way of its own keeps the usual one, also when that changes some day.
  const usual = (Object.keys(sending) as (keyof SendDesign)[]).every((k) => sending[k] === usualOf[k]);
  const changed = setNode(props.node, { sending: usual && !props.node.sending ? null : sending });
  const done = await site.apply(`How ${props.node.label} sends`, [changed], true);
  if (done.ok) emit("close");
  else faults.value = done.faults;
}
</script>

<template>
  <DialogForm
    :title="`How ${node.label} sends`"
    save="Save"
    :busy="site.busy.value"
    :faults="faults"
    @close="$emit('close')"
    @save="save"
  >
    <p v-if="advertised" class="text-sm text-faint">
      Nobody answers: each message is sent several times, for anyone who listens.
    </p>
    <CheckBox v-else v-model="form.acknowledged" label="It waits for an answer, and sends again without one" />
    <div class="grid gap-3 sm:grid-cols-2">
      <TextField
        v-if="form.acknowledged"
        v-model="form.mostTries"
        label="Sends of one message at most"
        field="sending.mostTries"
        number
        min="1"
        max="20"
      />
      <TextField
        v-else
        v-model="form.repeats"
        label="Times each message is sent"
        field="sending.repeats"
        number
        min="1"
        max="50"
      />
      <TextField
        v-model="form.delivered"
        label="Single sends that arrive, %"
        field="sending.deliveredShare"
        number
        hint="Empty: the usual of its radio."
      />
    </div>
    <template v-if="radio">
      <CheckBox v-model="form.hearsTime" label="It hears a time reference, so that it can keep a slot" />
      <div class="grid gap-3 sm:grid-cols-3">
        <TextField v-model="form.clockPpm" label="Clock, ± ppm" field="sending.clockPpm" number />
        <TextField v-model="form.resync" label="Time comes every" field="sending.resyncMs" mono />
        <TextField v-model="form.jitterMs" label="Start varies, ms" field="sending.jitterMs" number />
      </div>
    </template>
    <h3 class="mt-1 font-semibold">What its receiver takes</h3>
    <div class="grid gap-3 sm:grid-cols-3">
      <TextField v-model="form.buffer" label="Bytes its client holds" field="sending.bufferBytes" number />
      <TextField v-model="form.fields" label="Values in a message" field="sending.mostFields" number />
      <TextField v-model="form.spacing" label="A message every" field="sending.leastSpacingMs" mono hint="Empty: no limit." />
    </div>
  </DialogForm>
</template>
