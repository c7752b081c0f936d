<script setup lang="ts">
/** The lines of an expander, converter or multiplexer, and what hangs on each. */
import { computed } from "vue";
import type { BenchPlan, NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { insulation } from "./insulation";
import type { Wires } from "./wires";

const props = defineProps<{ helper: BenchPlan["helpers"][number]; plan: BenchPlan; node: NodeDesign; wires: Wires }>();
const site = useSite();
const address = computed(() => props.plan.parts.find((p) => p.part === props.helper.part)?.address);
const lines = computed(() =>
  props.helper.lines.map((line) => ({
    line,
    pin: `${props.helper.part}:${line}`,
    wires: props.plan.lines.filter((w) => w.pin === `${props.helper.part}:${line}`),
    fits: props.wires.choices.value?.offers.find((o) => o.pin === `${props.helper.part}:${line}`)?.fits,
  })),
);

/** An added module becomes one of the node's parts; its key stays, so that its wires do. */
async function keep() {
  const label = props.helper.label.replace(/ \(added.*\)/, "");
  await site.apply(`${label} is one of the parts now`, [
    {
      kind: "putPart",
      node: props.node.key,
      part: {
        key: props.helper.part,
        label,
        part: props.helper.catalogueId,
        interface: null,
        address: null,
        leadMetres: 0.1,
        switchSupply: false,
        bits: null,
      },
    },
  ]);
}
</script>

<template>
  <section class="sheet p-2">
    <h3 class="flex flex-wrap items-center gap-x-3">
      <strong>{{ helper.label }}</strong>
      <span class="mono text-sm text-faint"
        >{{ helper.catalogueId }}<template v-if="address != null">, 0x{{ address.toString(16).toUpperCase() }}</template></span
      >
      <template v-if="helper.added">
        <span class="text-sm">The planner added it: there is no plan without.</span>
        <AppButton v-if="site.canWrite.value" small @click="keep">Make it one of the parts</AppButton>
      </template>
    </h3>
    <ul class="mt-1 grid grid-cols-2 gap-x-4">
      <li v-for="l in lines" :key="l.line" class="flex min-h-6 min-w-0 items-center gap-2" :data-pin="l.pin">
        <span class="mono w-10 shrink-0 font-semibold">{{ l.line }}</span>
        <svg viewBox="0 0 20 8" class="w-5 shrink-0" aria-hidden="true">
          <path v-if="l.wires[0]" d="M0 4h20" :stroke="insulation(l.wires[0].colour)" stroke-width="5" />
          <circle v-else-if="wires.choices.value && l.fits" cx="4" cy="4" r="3" fill="var(--moss)" />
          <path v-else d="M0 4h20" stroke="var(--rule)" stroke-width="1" />
        </svg>
        <button
          v-for="w in l.wires.slice(0, 1)"
          :key="w.part + w.line"
          type="button"
          class="touch-none truncate text-left text-act hover:underline"
          @pointerdown="wires.drag.press($event, w)"
          @click="wires.choose(w)"
        >
          {{ w.partLabel }} <span class="mono">{{ w.line }}</span>
        </button>
        <span v-if="!l.wires.length" class="text-sm text-faint">free</span>
      </li>
    </ul>
  </section>
</template>
