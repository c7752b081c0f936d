<script setup lang="ts">
/** How a node sends, and who else is on its channel: slots on a ring, or the share of sends that meet another. */
import { computed, ref } from "vue";
import type { NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { duration, number, percentOf } from "@/kit/format";
import { linkNames, traitsOf } from "../bench/power";
import ChannelView from "./ChannelView.vue";
import SendingDialog from "./SendingDialog.vue";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const editing = ref(false);
const traits = computed(() => traitsOf(props.node.link, site.usual.value));
const send = computed(() => site.nodePlan(props.node.key)?.rhythm.sending ?? traits.value.sending);
const channel = computed(() =>
  site.plan.value?.reach.channels.find((c) => [...c.slots, ...c.free].some((s) => s.node === props.node.key)),
);
const facts = computed(() => {
  const s = send.value;
  return [
    s.acknowledged
      ? `It waits for an answer and sends up to ${s.mostTries} times.`
      : s.repeats > 1
        ? `Nobody answers: it sends each message ${s.repeats} times.`
        : "Nobody answers: what is lost is lost.",
    s.deliveredShare != null ? `${number(percentOf(s.deliveredShare))} % of single sends arrive.` : "",
    traits.value.isPackets
      ? s.hearsTime
        ? `It hears a time reference every ${duration(s.resyncMs)}; its clock is ±${number(s.clockPpm)} ppm, its start ±${number(s.jitterMs)} ms.`
        : "It hears no time reference, so it keeps no slot."
      : "",
    s.bufferBytes != null ? `Its client holds ${s.bufferBytes} bytes.` : "",
    s.mostFields != null ? `Its receiver takes ${s.mostFields} values in a message.` : "",
    s.leastSpacingMs != null ? `Its receiver allows a message every ${duration(s.leastSpacingMs)}.` : "",
  ].filter(Boolean);
});
</script>

<template>
  <p class="mb-4 flex flex-wrap items-center gap-x-4 gap-y-1">
    <span class="max-w-prose">{{ node.label }} sends by {{ linkNames[node.link] }}. {{ facts.join(" ") }}</span>
    <AppButton v-if="site.canWrite.value" small @click="editing = true">How it sends</AppButton>
  </p>
  <ChannelView v-if="channel" :channel="channel" />
  <p v-else class="text-faint">
    {{
      traits.listensFirst
        ? "It listens before it sends: there are no slots to plan."
        : traits.isPackets
          ? "It has no radio among its parts, or sends nothing: add one at the Bench."
          : "Nobody else sends there: there are no slots to plan."
    }}
  </p>
  <SendingDialog v-if="editing" :node="node" @close="editing = false" />
</template>
