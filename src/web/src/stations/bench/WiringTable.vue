<script setup lang="ts">
/** The wiring table in soldering order. A row is chosen to see why; a handle is dragged to a pin of the comb; a tick marks it soldered. */
import type { BenchPlan, NodeDesign, PlannedWire } from "@/api/client";
import { useSite } from "@/app/site";
import { insulation } from "./insulation";
import type { Wires } from "./wires";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan; wires: Wires }>();
const site = useSite();
const isSignal = (w: PlannedWire) => w.kind === "bus" || w.kind === "signal";
const chosen = (w: PlannedWire) => props.wires.chosen.value?.part === w.part && props.wires.chosen.value.line === w.line;
const through = (w: PlannedWire) =>
  w.through.map((key) => props.plan.components.find((c) => c.key === key)?.value ?? key).join("; ");
const splice = (w: PlannedWire) => w.kind === "bus" && props.plan.wires.filter((i) => i.pin === w.pin).length > 1;

function drag(e: DragEvent, w: PlannedWire) {
  e.dataTransfer?.setData("text/plain", `${w.part}.${w.line}`);
  props.wires.choose(w);
}

function solder(w: PlannedWire, on: boolean) {
  return on ? props.wires.hold(w, w.pin, "soldered") : props.wires.release(w);
}
</script>

<template>
  <section v-if="plan.wires.length">
    <h2 class="mb-1 text-lg font-semibold">Wires, in soldering order</h2>
    <p class="mb-1 text-sm text-faint">
      Supply off while you solder; the iron back in its stand. Tick a wire when it is soldered: later plans keep it there.
    </p>
    <div class="overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th class="text-right">No.</th>
            <th>Wire</th>
            <th>From part</th>
            <th>To pin</th>
            <th>Between</th>
            <th>Soldered</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in plan.wires" :key="w.order" :class="chosen(w) ? 'bg-paper' : ''">
            <td class="mono text-right text-faint">{{ w.order }}</td>
            <td class="whitespace-nowrap">
              <svg
                viewBox="0 0 26 10"
                class="mr-1.5 inline w-6"
                :class="isSignal(w) && site.canWrite.value ? 'cursor-grab' : ''"
                aria-hidden="true"
              >
                <path d="M2 5h22" stroke="var(--faint)" stroke-width="7" stroke-linecap="round" />
                <path d="M2 5h22" :stroke="insulation(w.colour)" stroke-width="5" stroke-linecap="round" /></svg
              >{{ w.colour }}
            </td>
            <td>
              <button
                v-if="isSignal(w)"
                type="button"
                class="text-left text-act hover:underline"
                :draggable="site.canWrite.value"
                @dragstart="drag($event, w)"
                @dragend="wires.tryAt(undefined)"
                @click="wires.choose(w)"
              >
                {{ w.partLabel }} <span class="mono font-semibold">{{ w.line }}</span>
              </button>
              <template v-else
                >{{ w.partLabel }} <span class="mono font-semibold">{{ w.line }}</span></template
              >
            </td>
            <td class="whitespace-nowrap">
              <span class="mono font-semibold">{{ w.pinLabel }}</span>
              <span v-if="!w.pin.includes(':')" class="mono ml-1 text-sm text-faint">{{ w.pin }}</span>
            </td>
            <td class="text-sm">
              {{ through(w) }}<span v-if="splice(w)" class="text-faint">{{ through(w) ? "; " : "" }}splice</span>
            </td>
            <td>
              <input
                v-if="isSignal(w)"
                type="checkbox"
                class="size-5"
                :checked="w.hold === 'soldered'"
                :disabled="!site.canWrite.value || site.busy.value"
                :aria-label="`${w.partLabel} ${w.line} is soldered`"
                @change="solder(w, ($event.target as HTMLInputElement).checked)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
