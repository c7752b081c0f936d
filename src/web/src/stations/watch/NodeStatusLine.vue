<script setup lang="ts">
/** What is known of a node itself: whether it is there, how it is heard, how its clock goes. */
import type { NodeView } from "@/api/client";
import { useSite } from "@/app/site";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, moment } from "@/kit/format";

defineProps<{ view: NodeView; zone: string }>();
const site = useSite();
</script>

<template>
  <ul class="flex flex-col gap-1">
    <li>
      <strong class="mono">{{ view.received }}</strong> messages received,
      <template v-if="view.lost === null">without numbers: loss cannot be seen.</template>
      <template v-else
        ><strong class="mono">{{ view.lost }}</strong> lost by their numbers.</template
      >
    </li>
    <li>
      <template v-if="view.status.via"
        >It is heard through {{ site.node(view.status.via)?.label ?? view.status.via }}, whose key speaks for it too.</template
      >
      <template v-else-if="view.status.connected"><SeverityMark severity="fine" /> It is connected to the broker.</template>
      <template v-else>It is not connected to the broker here.</template>
      <template v-if="view.status.up !== null">
        {{ " " }}{{ view.status.up ? "It said that it is there" : "Its last will said that it is gone" }}
        <span class="mono text-sm text-faint">{{ moment(view.status.upMs!, zone, true) }}</span>.</template
      >
    </li>
    <li v-if="view.status.lifeMs !== null">
      Its counts began anew <span class="mono text-sm text-faint">{{ moment(view.status.lifeMs, zone, true) }}</span>: another
      board, or its flash was erased.
    </li>
    <li v-if="view.status.repeats > 0">
      <strong class="mono">{{ view.status.repeats }}</strong> {{ view.status.repeats === 1 ? "message" : "messages" }} came again
      (the same start and number), the last
      <span class="mono text-sm text-faint">{{ moment(view.status.repeatMs!, zone, true) }}</span>: acknowledged, not stored
      twice.
    </li>
    <li v-if="view.status.correctionMs !== null">
      <SeverityMark severity="risk" /> Its clock is
      <strong class="mono">{{ duration(Math.abs(view.status.correctionMs)) }}</strong>
      {{ view.status.correctionMs > 0 ? "ahead" : "behind" }}; its times are corrected by that since
      <span class="mono text-sm text-faint">{{ moment(view.status.correctionAtMs!, zone, true) }}</span>. Set its clock, or let it
      leave the time out.
    </li>
  </ul>
</template>
