<script setup lang="ts">
/** The steps behind a figure: formula, numbers put in, source, and the figures it was built from. */
import type { Worked } from "@/api/client";
import { amount, bandText, figureText, number } from "./format";

defineProps<{ figure: Worked; nested?: boolean }>();
const text = (value: number, unit: string) => (amount(value, unit)[0] + " " + amount(value, unit)[1]).trim();
</script>

<template>
  <div class="flex flex-col gap-2">
    <p>
      <span class="mono text-lg font-semibold">{{ figureText(figure) }}</span>
      <span v-if="bandText(figure)" class="ml-2 text-sm text-faint">{{ bandText(figure) }}</span>
    </p>
    <p class="mono border-l-2 border-act pl-2">{{ figure.working.formula }}</p>
    <table v-if="figure.working.inputs.length" class="w-full text-sm">
      <tbody>
        <tr v-for="(i, at) in figure.working.inputs" :key="at" class="border-b border-rule align-top">
          <td class="py-1 pr-2">{{ i.name }}</td>
          <td class="mono py-1 pr-2 text-right whitespace-nowrap">{{ i.unit ? text(i.value, i.unit) : number(i.value) }}</td>
          <td class="py-1 text-faint">{{ i.source }}</td>
        </tr>
      </tbody>
    </table>
    <p class="text-sm text-faint">Source: {{ figure.working.source }}</p>
    <details v-for="(f, at) in figure.working.from ?? []" :key="at" class="border-l border-rule pl-2">
      <summary class="cursor-pointer text-sm">{{ f.label }}: {{ figureText(f) }}</summary>
      <WorkingView :figure="f" nested class="mt-2" />
    </details>
  </div>
</template>
