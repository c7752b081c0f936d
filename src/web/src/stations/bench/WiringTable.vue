<script setup lang="ts">
/** Every joint in soldering order. A line is chosen to see why its pin; its handle is carried to a pin of the comb; a tick marks it soldered. */
import { ArrowsUpDownIcon } from "@heroicons/vue/20/solid";
import { computed, ref } from "vue";
import type { BenchPlan, NodeDesign, PlannedWire } from "@/api/client";
import { useSite } from "@/app/site";
import { insulation } from "./insulation";
import type { Wires } from "./wires";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan; wires: Wires }>();
const site = useSite();
const legs = ref(true);
const rows = computed(() => (legs.value ? props.plan.wires : props.plan.wires.filter((w) => w.form === "wire")));
const forms = { wire: "", leg: "leg", bridge: "bridge", plug: "plug" };
const line = (w: PlannedWire) => props.plan.lines.find((l) => `${l.part}.${l.line}` === w.serves);
/** What a tick is about: the line whose last joint this is, else the wire itself. */
const ticked = (w: PlannedWire) => (line(w) ? `${line(w)!.partLabel} ${line(w)!.line}` : `${w.partLabel} ${w.line}`);
/** The line whose pin this joint ends on. */
const moves = (w: PlannedWire) => (w.serves && w.serves === w.tick ? line(w) : undefined);
const chosen = (w: PlannedWire) => {
  const c = props.wires.chosen.value;
  return c !== undefined && w.serves === `${c.part}.${c.line}`;
};

async function solder(w: PlannedWire, on: boolean) {
  const at = w.tick!.indexOf(".");
  const [part, name] = [w.tick!.slice(0, at), w.tick!.slice(at + 1)];
  await site.apply(
    `${ticked(w)} ${on ? "soldered" : "not soldered"} at ${w.pinLabel}`,
    on
      ? [
          {
            kind: "putWire",
            node: props.node.key,
            wire: { part, line: name, pin: w.pin, hold: "soldered", colour: w.colour || null },
          },
        ]
      : [{ kind: "removeWire", node: props.node.key, part, line: name }],
  );
}

/** By keyboard the wire is in hand, and the pin it is on has the focus. */
function carry(w: PlannedWire) {
  const moved = moves(w)!;
  props.wires.drag.carry(moved);
  document.querySelector<SVGGElement>(`[data-comb] [data-pin="${CSS.escape(moved.pin)}"]`)?.focus();
}
</script>

<template>
  <section v-if="plan.wires.length">
    <div class="mb-1 flex flex-wrap items-baseline gap-x-4">
      <h2 class="text-lg font-semibold">Wires, in soldering order</h2>
      <button type="button" class="text-sm text-act hover:underline" @click="legs = !legs">
        {{ legs ? "Wires only" : "With legs of components and bridges" }}
      </button>
    </div>
    <p class="mb-1 text-sm text-faint">
      Supply off while you solder; the iron back in its stand. Tick a wire when it is soldered: later plans keep it there.
    </p>
    <div class="overflow-x-auto">
      <table class="grid-table" data-wires>
        <thead>
          <tr>
            <th class="text-right">No.</th>
            <th>Wire</th>
            <th>From</th>
            <th>To</th>
            <th>Soldered</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in rows" :key="w.order" :class="chosen(w) ? 'bg-paper' : ''">
            <td class="mono text-right text-faint">{{ w.order }}</td>
            <td class="whitespace-nowrap">
              <template v-if="w.form === 'wire'"
                ><svg viewBox="0 0 26 10" class="mr-1.5 inline w-6" aria-hidden="true">
                  <path d="M2 5h22" stroke="var(--faint)" stroke-width="7" stroke-linecap="round" />
                  <path d="M2 5h22" :stroke="insulation(w.colour)" stroke-width="5" stroke-linecap="round" /></svg
                >{{ w.colour }}</template
              ><span v-else class="text-sm text-faint">{{ forms[w.form] }}</span>
            </td>
            <td>
              <span class="flex items-center gap-1.5">
                <button
                  v-if="moves(w) && site.canWrite.value"
                  type="button"
                  class="cursor-grab touch-none text-faint hover:text-act"
                  :aria-label="`Move ${ticked(w)} to another pin`"
                  title="Drag it to a pin of the board"
                  @pointerdown="wires.drag.press($event, moves(w)!)"
                  @keydown.enter.prevent="carry(w)"
                >
                  <ArrowsUpDownIcon class="size-4" />
                </button>
                <button v-if="line(w)" type="button" class="text-left text-act hover:underline" @click="wires.choose(line(w)!)">
                  {{ w.partLabel }} <span class="mono font-semibold">{{ w.line }}</span>
                </button>
                <span v-else
                  >{{ w.partLabel }} <span class="mono font-semibold">{{ w.line }}</span></span
                >
              </span>
            </td>
            <td>
              <span :class="w.pin.includes(':') ? '' : 'mono font-semibold'">{{ w.pinLabel }}</span>
              <span v-if="!w.pin.includes(':')" class="mono ml-1 text-sm text-faint">{{ w.pin }}</span>
              <span v-if="moves(w)?.busLine" class="ml-2 text-sm text-faint">{{ moves(w)!.busLine }}</span>
            </td>
            <td>
              <input
                v-if="w.tick"
                type="checkbox"
                class="size-5"
                :checked="w.hold === 'soldered'"
                :disabled="!site.canWrite.value || site.busy.value"
                :aria-label="`${ticked(w)} is soldered`"
                @change="solder(w, ($event.target as HTMLInputElement).checked)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
