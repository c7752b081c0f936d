<script setup lang="ts">
/** Which wires join before they reach a pin. */
import type { BenchPlan } from "@/api/client";
import { insulation } from "./insulation";

defineProps<{ plan: BenchPlan }>();
</script>

<template>
  <section>
    <h2 class="mb-1 text-lg font-semibold">Splices</h2>
    <p class="mb-1 text-sm text-faint">Join these wires, then run one wire to the pin. Slip the sleeve on before you solder.</p>
    <ul class="divide-y divide-rule border-y border-rule">
      <li v-for="s in plan.splices" :key="s.pin" class="flex flex-wrap items-center gap-x-3 py-1.5">
        <svg viewBox="0 0 34 14" class="w-8 shrink-0" aria-hidden="true">
          <path d="M1 3h14l6 4h12M1 11h14l6-4" fill="none" :stroke="insulation(s.colour)" stroke-width="3" />
          <circle cx="21" cy="7" r="3" fill="var(--ink)" />
        </svg>
        <span class="mono font-semibold">{{ s.pinLabel }}</span>
        <span>{{ s.wires.join(", ") }}</span>
      </li>
    </ul>
  </section>
</template>
