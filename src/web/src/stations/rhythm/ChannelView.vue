<script setup lang="ts">
/** One radio channel: the ring of its slots, and the senders without one. */
import type { ChannelPlan } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, seconds } from "@/kit/format";
import SlotDial from "./SlotDial.vue";
import { strokeOf } from "./axis";

defineProps<{ channel: ChannelPlan }>();
const verdicts = {
  clear: { severity: "fine", text: "No two slots ever meet." },
  impossible: { severity: "risk", text: "No offsets keep these slots apart." },
  bestEffort: { severity: "risk", text: "The best offsets that were found." },
} as const;
</script>

<template>
  <section class="mb-6">
    <h2 class="mb-1 text-lg font-semibold">{{ channel.label }}</h2>
    <p class="mb-2 flex flex-wrap gap-x-5 gap-y-1">
      <span v-if="channel.verdict && channel.slots.length"
        ><SeverityMark :severity="verdicts[channel.verdict].severity" word /> {{ verdicts[channel.verdict].text }}</span
      >
      <span class="text-faint">{{ channel.how }}</span>
      <span>the air is busy for <FigureView :figure="channel.busy" /></span>
      <span v-if="channel.overlap?.value">of the slots <FigureView :figure="channel.overlap" /> meet another</span>
    </p>
    <div class="grid items-start gap-6" :class="channel.slots.length ? 'md:grid-cols-[minmax(0,20rem)_minmax(0,1fr)]' : ''">
      <SlotDial v-if="channel.slots.length" :channel="channel" />
      <div class="min-w-0 overflow-x-auto">
        <table v-if="channel.slots.length" class="grid-table">
          <thead>
            <tr>
              <th>Slot of</th>
              <th class="text-right">Starts at</th>
              <th class="text-right">In every</th>
              <th class="text-right">On the air</th>
              <th class="text-right">Guard</th>
              <th class="text-right">Time needed every</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(s, at) in channel.slots" :key="s.node">
              <td>
                <svg viewBox="0 0 10 10" class="mr-1 inline size-2.5" aria-hidden="true">
                  <rect width="10" height="10" :fill="strokeOf(at).colour" /></svg
                >{{ s.label }}
              </td>
              <td class="mono text-right whitespace-nowrap">{{ seconds(s.offsetMs) }}</td>
              <td class="mono text-right whitespace-nowrap">{{ duration(s.periodMs) }}</td>
              <td class="text-right"><FigureView :figure="s.air" /></td>
              <td class="text-right"><FigureView :figure="s.guard" /></td>
              <td class="text-right"><FigureView :figure="s.longestResync" /></td>
            </tr>
          </tbody>
        </table>
        <table v-if="channel.free.length" class="grid-table" :class="channel.slots.length ? 'mt-4' : ''">
          <thead>
            <tr>
              <th>Sends when it will</th>
              <th class="text-right">About every</th>
              <th class="text-right">First after start</th>
              <th class="text-right">Meets no other</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in channel.free" :key="f.label">
              <td>{{ f.label }}</td>
              <td class="text-right"><FigureView :figure="f.every" /></td>
              <td class="mono text-right whitespace-nowrap">{{ seconds(f.offsetMs) }}</td>
              <td class="text-right"><FigureView :figure="f.clear" /></td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </section>
</template>
