<script setup lang="ts">
/** The whole circuit: every module pin by pin as it is printed, what is added as a schematic, and all of it net by net. */
import { computed, useTemplateRef } from "vue";
import type { BenchPlan, NodeDesign } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import { insulation } from "./insulation";
import AdditionSketch from "./AdditionSketch.vue";
import PieceSymbol from "./PieceSymbol.vue";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan }>();
const components = computed(() => props.plan.circuit.components);
const labels = computed(() => new Map(props.plan.circuit.nets.map((n) => [n.key, n.label])));
const netLabel = (key: string | null) => (key === null ? "open" : (labels.value.get(key) ?? key));

/** A module's pins in printed order, each with the joint that ends on it. */
const modules = computed(() =>
  components.value
    .filter((c) => c.kind === "part")
    .map((c) => ({
      ...c,
      pins: c.terminals.map((t) => {
        const own = props.plan.wires.find((w) => w.part === c.key && w.line === t.name);
        const ending = props.plan.wires.find((w) => w.pin === `${c.key}:${t.name}` && w.part !== c.key);
        return {
          name: t.name,
          net: t.net,
          colour: own?.colour || ending?.colour || "",
          bridge: own?.form === "bridge",
          to: own ? own.pinLabel : ending ? `${ending.partLabel} ${ending.line}` : t.net ? netLabel(t.net) : "",
        };
      }),
    })),
);
const chain = computed(() => components.value.filter((c) => c.key.startsWith("supply/")));
const order = { supply: 0, ground: 1, bus: 2, signal: 3 };
const nets = computed(() =>
  [...props.plan.circuit.nets]
    .sort((a, b) => order[a.kind] - order[b.kind])
    .map((n) => ({
      ...n,
      ends: components.value.flatMap((c) =>
        c.terminals
          .filter((t) => t.net === n.key)
          .map((t) =>
            c.kind === "board"
              ? `board ${props.plan.wires.find((w) => w.pin === t.name)?.pinLabel ?? ""} ${t.name}`
              : `${c.label} ${t.name}`,
          ),
      ),
    })),
);

/** Where the ends of a net stand on its line, wrapped to the width of the sheet. */
const WIDTH = 900;
const rows = computed(() => {
  let y = 24;
  return nets.value.map((n) => {
    let x = 206;
    const top = y;
    const ends = n.ends.map((text) => {
      const width = text.length * 6.4 + 18;
      if (x + width > WIDTH) {
        x = 206;
        y += 22;
      }
      const end = { text, x, y, width };
      x += width + 8;
      return end;
    });
    const row = { ...n, top, bottom: y, ends };
    y += 30;
    return row;
  });
});
const height = computed(() => (rows.value.at(-1)?.bottom ?? 0) + 24);

const drawing = useTemplateRef<SVGSVGElement>("drawing");
function save() {
  const svg = drawing.value!.cloneNode(true) as SVGSVGElement;
  svg.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  const style = getComputedStyle(document.documentElement);
  const text = new XMLSerializer()
    .serializeToString(svg)
    .replace(/var\((--[a-z]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim() || "#000");
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "image/svg+xml" }));
  link.download = `${props.node.key}-circuit.svg`;
  link.click();
  URL.revokeObjectURL(link.href);
}
</script>

<template>
  <div class="flex flex-col gap-6">
    <section>
      <h2 class="mb-1 text-lg font-semibold">Each module, pin by pin as it is printed</h2>
      <p class="mb-2 text-sm text-faint">Boards vary: the print on yours wins over the order here.</p>
      <div class="grid grid-cols-1 gap-x-6 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
        <div v-for="m in modules" :key="m.key" class="sheet p-2">
          <h3>
            <strong>{{ m.label }}</strong> <span class="text-sm text-faint">{{ m.value }}</span>
          </h3>
          <ul class="mt-1">
            <li v-for="p in m.pins" :key="p.name" class="flex min-h-6 items-center gap-2">
              <span class="mono w-14 shrink-0 font-semibold">{{ p.name }}</span>
              <svg viewBox="0 0 26 8" class="w-6 shrink-0" aria-hidden="true">
                <path v-if="p.colour" d="M1 4h24" stroke="var(--faint)" stroke-width="7" />
                <path
                  v-if="p.net"
                  d="M1 4h24"
                  :stroke="p.colour ? insulation(p.colour) : 'var(--ink)'"
                  :stroke-width="p.colour ? 5 : 1.5"
                />
              </svg>
              <span v-if="p.net" class="min-w-0 truncate" :title="p.to">{{ p.bridge ? "bridge to " : "" }}{{ p.to }}</span>
              <span v-else class="text-sm text-faint">open</span>
            </li>
          </ul>
          <p v-if="m.strap" class="mt-1 text-sm">Strap: {{ m.strap }}</p>
          <p v-if="m.pullUpTakenOff" class="mt-1 text-sm text-risk">Take its own pull-up off.</p>
        </div>
      </div>
    </section>
    <section v-if="plan.additions.length">
      <h2 class="mb-1 text-lg font-semibold">What is added</h2>
      <div v-for="a in plan.additions" :key="a.key" class="border-t border-rule py-2">
        <p>
          <strong>{{ a.what }}</strong> <span class="mono text-sm">{{ a.for }}</span>
        </p>
        <p class="text-sm text-faint">{{ a.where }}</p>
        <AdditionSketch :plan="plan" :addition="a" class="mt-1" />
      </div>
    </section>
    <section v-if="chain.length">
      <h2 class="mb-1 text-lg font-semibold">What feeds it</h2>
      <div class="flex flex-wrap gap-4">
        <PieceSymbol v-for="c in chain" :key="c.key" :component="c" :net-label="netLabel" />
      </div>
    </section>
    <section>
      <h2 class="mb-1 flex flex-wrap items-center gap-4 text-lg font-semibold">
        Net by net <AppButton small @click="save">Save as SVG</AppButton>
      </h2>
      <div class="overflow-x-auto" tabindex="0" role="group" aria-label="Drawing of the circuit, net by net">
        <svg
          ref="drawing"
          :viewBox="`0 0 ${WIDTH} ${height}`"
          class="block w-full min-w-[44rem]"
          font-size="11"
          font-family="sans-serif"
          role="img"
          :aria-label="`${rows.length} nets of ${node.label}`"
        >
          <g v-for="r in rows" :key="r.key">
            <text x="4" :y="r.top + 4" fill="var(--ink)" font-weight="600">
              {{ r.label.length > 30 ? r.label.slice(0, 29) + "…" : r.label }}
              <title>{{ r.label }}: {{ r.highVolts }} V at most</title>
            </text>
            <path
              v-for="y in new Set(r.ends.map((e) => e.y))"
              :key="y"
              :d="`M194 ${y}H${Math.max(...r.ends.filter((e) => e.y === y).map((e) => e.x + e.width))}`"
              :stroke="r.kind === 'ground' ? 'var(--ink)' : 'var(--clay)'"
              stroke-width="2"
            />
            <path v-if="r.bottom > r.top" :d="`M194 ${r.top}V${r.bottom}`" stroke="var(--clay)" stroke-width="2" />
            <g v-for="(e, at) in r.ends" :key="at">
              <rect :x="e.x" :y="e.y - 9" :width="e.width" height="18" rx="2" fill="var(--sheet)" stroke="var(--faint)" />
              <text :x="e.x + e.width / 2" :y="e.y + 4" text-anchor="middle" fill="var(--ink)">{{ e.text }}</text>
            </g>
          </g>
        </svg>
      </div>
    </section>
  </div>
</template>
