<script setup lang="ts">
/** The stretch that is looked at: live lengths, zoom and pan by button and by day. */
import { computed } from "vue";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import { moment } from "@/kit/format";
import { spans, type useRange } from "./range";

const props = defineProps<{ range: ReturnType<typeof useRange>; zone: string }>();
const stretch = computed(() => props.range.stretch.value);
const live = computed(() => props.range.live.value);
const text = computed(() => `${moment(stretch.value.from, props.zone, true)} to ${moment(stretch.value.to, props.zone, true)}`);
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
    <ChoiceStrip
      label="Stretch of time"
      :options="spans.map((s) => ({ value: s.key, label: s.label }))"
      :model-value="live ? range.span.value.key : undefined"
      @update:model-value="range.choose($event!)"
    />
    <span class="flex gap-1" role="group" aria-label="Move and zoom">
      <AppButton class="min-h-11" aria-label="Earlier" @click="range.pan(-0.5)">←</AppButton>
      <AppButton class="min-h-11" aria-label="Later" @click="range.pan(0.5)">→</AppButton>
      <AppButton class="min-h-11" aria-label="Closer" @click="range.zoom(0.5)">+</AppButton>
      <AppButton class="min-h-11" aria-label="Wider" @click="range.zoom(2)">−</AppButton>
    </span>
    <span v-if="!live" class="mono text-sm">{{ text }}</span>
    <AppButton v-if="!live" small @click="range.choose(range.span.value.key)">Live</AppButton>
  </div>
</template>
