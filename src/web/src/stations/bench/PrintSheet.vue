<script setup lang="ts">
/** Two A4 pages for the wall above the bench: the drawing with the cautions, and the wiring table. Shown in print only. */
import { computed } from "vue";
import type { BenchPlan, Board, NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import PinComb from "./PinComb.vue";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan; board: Board }>();
const site = useSite();
const cautions = computed(() =>
  site
    .findings("bench", props.node.key)
    .filter((f) => f.severity !== "note" || f.code === "BENCH-CAUTION")
    .map((f) => (f.code === "BENCH-CAUTION" ? f.what : `${f.what} ${f.advice ?? ""}`)),
);
const form = { wire: "", leg: "leg", bridge: "bridge", plug: "plug" };
</script>

<template>
  <div class="hidden text-[10pt] print:block">
    <section class="break-after-page">
      <h2 class="text-[16pt] font-semibold">{{ node.label }}: {{ board.label }}</h2>
      <div data-print-comb class="mx-auto w-[150mm]"><PinComb :board="board" :plan="plan" :node="node" plain /></div>
      <h3 class="mt-3 font-semibold">Mind</h3>
      <ul class="list-disc pl-5">
        <li v-for="c in [...new Set(cautions)]" :key="c">{{ c }}</li>
        <li>
          Supply off while you solder. Not a certified smoke, gas, intruder or medical device; mains belongs to a licensed trade.
        </li>
      </ul>
    </section>
    <section>
      <h2 class="text-[16pt] font-semibold">{{ node.label }}: wires, in soldering order</h2>
      <table class="w-full border-collapse">
        <thead>
          <tr class="border-b border-black text-left">
            <th>No.</th>
            <th>Wire</th>
            <th>From</th>
            <th>To</th>
            <th>Length</th>
            <th>Done</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in plan.wires" :key="w.order" class="break-inside-avoid border-b border-neutral-300">
            <td class="mono">{{ w.order }}</td>
            <td>{{ w.colour || form[w.form] }}</td>
            <td>
              {{ w.partLabel }} <b class="mono">{{ w.line }}</b>
            </td>
            <td>
              <b class="mono">{{ w.pinLabel }}</b> {{ w.pin.includes(":") ? "" : w.pin }}
            </td>
            <td class="mono">{{ w.form === "wire" ? `${w.lengthMetres} m` : "" }}</td>
            <td>☐</td>
          </tr>
        </tbody>
      </table>
      <h3 v-if="plan.additions.length" class="mt-3 font-semibold">What is added</h3>
      <p v-for="a in plan.additions" :key="a.key" class="mt-1 break-inside-avoid">
        <b>{{ a.what }}</b> ({{ a.for }}): {{ a.where }}
      </p>
      <h3 v-if="plan.parts.some((i) => i.strap)" class="mt-3 font-semibold">Straps</h3>
      <p v-for="p in plan.parts.filter((i) => i.strap)" :key="p.part" class="mt-1">
        <b>{{ p.label }}</b>: {{ p.strap
        }}<template v-if="p.address != null"> (0x{{ p.address.toString(16).toUpperCase() }})</template>
      </p>
    </section>
  </div>
</template>
