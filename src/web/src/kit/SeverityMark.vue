<script setup lang="ts">
/** Severity as a mark and a word: never by colour alone. */
import type { Severity } from "@/api/client";

defineProps<{ severity: Severity | "fine"; word?: boolean }>();
const words = { stop: "Stop", risk: "Risk", note: "Note", fine: "Fine" };
const colours = { stop: "text-stop", risk: "text-risk", note: "text-faint", fine: "text-moss" };
</script>

<template>
  <span class="inline-flex items-baseline gap-1 font-semibold" :class="colours[severity]">
    <svg
      viewBox="0 0 16 16"
      class="size-3.5 shrink-0"
      :class="word ? 'translate-y-0.5' : ''"
      fill="currentColor"
      aria-hidden="true"
    >
      <path v-if="severity === 'stop'" d="M5 1h6l4 4v6l-4 4H5l-4-4V5z" />
      <path v-else-if="severity === 'risk'" d="M8 1.5 15.5 14.5H.5z" />
      <circle v-else-if="severity === 'note'" cx="8" cy="8" r="4" />
      <path v-else d="m2 8.5 4 4L14 4l-1.6-1.5L6 9.3 3.5 7z" />
    </svg>
    <span :class="word ? '' : 'sr-only'">{{ words[severity] }}</span>
  </span>
</template>
