<script setup lang="ts">
/** The node as buses: each bus a line with its parts, their addresses, straps drawn as bridges, and what hangs behind a multiplexer. */
import { computed } from "vue";
import type { BenchPlan, Board, NodeDesign } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan; board?: Board }>();
const hex = (a: number) => "0x" + a.toString(16).toUpperCase().padStart(2, "0");
const gap = 128;
const buses = computed(() =>
  props.plan.buses.map((bus) => {
    const members = props.plan.parts.filter((p) => bus.parts.includes(p.part));
    const shared = bus.kind !== "uart";
    const lines = props.plan.lines.filter(
      (w) => bus.parts.includes(w.part) && !w.pin.includes(":") && w.kind === (shared ? "bus" : "signal"),
    );
    const pins = [
      ...new Set(lines.map((w) => (shared ? `${w.line} ${w.pinName}` : `${w.line} of ${w.partLabel} to ${w.pinName}`))),
    ];
    return { bus, members, pins, width: Math.max(3, members.length) * gap + 120 };
  }),
);
const single = computed(() => props.plan.parts.filter((p) => !p.bus));
const pinsOf = (part: string) =>
  props.plan.lines.filter((w) => w.part === part && w.kind === "signal").map((w) => `${w.line} to ${w.pinName}`);
const bridged = (strap: string | null | undefined) => !!strap && !/^(fixed|as it comes|no bridge)/.test(strap);
const kinds: Record<string, string> = { oneWire: "1-Wire", i2c: "I2C", spi: "SPI", uart: "UART" };
const short = (text: string, n = 19) => (text.length > n ? text.slice(0, n - 1) + "…" : text);
</script>

<template>
  <div class="flex flex-col gap-5">
    <p v-if="!plan.parts.length" class="text-faint">No parts are connected yet.</p>
    <section v-for="b in buses" :key="b.bus.name">
      <h2 class="flex flex-wrap items-baseline gap-x-4">
        <span class="text-lg font-semibold">{{ b.bus.name }}</span>
        <span v-if="b.bus.clockKilohertz" class="mono">{{ b.bus.clockKilohertz }} kHz</span>
        <span class="mono text-sm text-faint">{{ b.pins.join(" · ") }}</span>
      </h2>
      <div class="overflow-x-auto" tabindex="0" role="group" :aria-label="`Drawing of ${b.bus.name}`">
        <svg
          :viewBox="`0 0 ${b.width} 118`"
          :style="{ width: `${b.width}px` }"
          class="block max-w-none"
          role="img"
          :aria-label="`${b.bus.name}: ${b.members.map((m) => m.label + (m.address != null ? ' ' + hex(m.address) : '')).join(', ')}`"
          font-size="12"
        >
          <rect x="1" y="6" width="86" height="30" fill="var(--paper)" stroke="var(--faint)" rx="2" />
          <text x="44" y="25" text-anchor="middle" fill="var(--ink)" font-weight="600">
            {{ short(board?.mcu ?? "board", 12) }}
          </text>
          <path :d="`M87 21H${b.width - 12}`" stroke="var(--clay)" stroke-width="3" />
          <g v-for="(m, at) in b.members" :key="m.part" :transform="`translate(${108 + at * gap} 0)`">
            <path
              d="M56 21v24"
              :stroke="m.behind ? 'var(--act)' : 'var(--clay)'"
              stroke-width="2"
              :stroke-dasharray="m.behind ? '4 3' : undefined"
            />
            <circle cx="56" cy="21" r="4" fill="var(--clay)" />
            <rect x="0" y="45" width="116" height="40" fill="var(--sheet)" stroke="var(--faint)" rx="2" />
            <text x="58" y="61" text-anchor="middle" fill="var(--ink)" font-weight="600">{{ short(m.label, 17) }}</text>
            <text x="58" y="78" text-anchor="middle" class="mono" fill="var(--ink)">
              {{ m.address != null ? hex(m.address) : (kinds[m.interface ?? ""] ?? m.interface) }}
            </text>
            <!-- a strap: two pads and the bridge between them -->
            <g v-if="bridged(m.strap)">
              <circle cx="6" cy="97" r="3.5" fill="none" stroke="var(--ink)" />
              <circle cx="20" cy="97" r="3.5" fill="none" stroke="var(--ink)" />
              <path d="M6 97h14" stroke="var(--ink)" stroke-width="3" />
            </g>
            <text :x="bridged(m.strap) ? 28 : 0" y="101" fill="var(--faint)">
              {{ short(m.behind ?? m.strap ?? "", bridged(m.strap) ? 16 : 20) }}
              <title>{{ m.behind ?? m.strap }}</title>
            </text>
          </g>
        </svg>
      </div>
      <p v-if="b.bus.figures.length" class="flex flex-wrap gap-x-4 text-sm">
        <span v-for="f in b.bus.figures" :key="f.label">{{ f.label }} <FigureView :figure="f" /></span>
      </p>
    </section>
    <section v-if="single.length">
      <h2 class="mb-1 text-lg font-semibold">Lines of their own</h2>
      <table class="grid-table">
        <tbody>
          <tr v-for="p in single" :key="p.part">
            <td>{{ p.label }}</td>
            <td class="mono text-sm">{{ pinsOf(p.part).join(" · ") }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-if="plan.analog.length">
      <h2 class="mb-1 text-lg font-semibold">Analog readings</h2>
      <table class="grid-table">
        <thead>
          <tr>
            <th>Reading</th>
            <th>Through</th>
            <th class="text-right">One step</th>
            <th class="text-right">Error of the converter</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="a in plan.analog" :key="a.part + a.line">
            <td>{{ node.parts.find((p) => p.key === a.part)?.label }} {{ a.quantity }}</td>
            <td>{{ a.through }}</td>
            <td class="text-right"><FigureView :figure="a.step" /></td>
            <td class="text-right">± <FigureView :figure="a.error" /></td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>
