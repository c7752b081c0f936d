<script setup lang="ts">
/** A figure with its unit and band; a click or "." opens its working in the margin. */
import { computed } from "vue";
import type { Figure } from "@/api/client";
import { useMargin } from "@/app/margin";
import { bandText, figureText } from "./format";

const props = defineProps<{ figure: Figure; big?: boolean; band?: boolean }>();
const { showFigure } = useMargin();
/** "." asks for the working, as Enter does. */
function byKey(e: KeyboardEvent) {
  if (e.key !== ".") return;
  e.preventDefault();
  showFigure(props.figure);
}

const range = computed(() => (props.band ? bandText(props.figure) : ""));
</script>

<template>
  <button
    type="button"
    class="relative text-left underline decoration-rule decoration-dotted underline-offset-4 hover:decoration-act"
    :title="`${figure.label}: show the working`"
    @click="showFigure(figure)"
    @keydown="byKey"
  >
    <span class="sr-only">{{ figure.label }}: </span>
    <span :class="big ? 'text-3xl font-semibold' : ''" class="mono whitespace-nowrap"
      ><slot>{{ figureText(figure) }}</slot></span
    >
    <span v-if="range" class="block text-sm text-faint">{{ range }}</span>
  </button>
</template>
