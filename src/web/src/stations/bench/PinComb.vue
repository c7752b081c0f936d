<script setup lang="ts">
/** The board as two combs of teeth in their true order: printed label, hazards, and the wire on each; ghosts where a wire was. */
import { computed } from "vue";
import type { BenchPlan, Board, NodeDesign, Pin } from "@/api/client";
import { useSite } from "@/app/site";
import PinLegend from "./PinLegend.vue";
import PinTooth from "./PinTooth.vue";
import type { Wires } from "./wires";

const props = defineProps<{ board: Board; plan: BenchPlan; node: NodeDesign; wires?: Wires; plain?: boolean }>();
const offers = computed(() => (props.plain ? undefined : props.wires?.choices.value?.offers));
const chosen = defineModel<{ part: string; line: string }>("chosen");
const site = useSite();
const rowHeight = 24;
const width = 482;
const middle = { left: 176, right: 306 };
/** Letters that have room beside a pin. */
const room = 22;
const rows = computed(() => Math.max(...props.board.pins.map((p) => p.position)) + 1);
const serious = ["strapHigh", "strapLow", "strapLoaderLow", "bootPulse", "flash", "console", "psram"];

const teeth = computed(() =>
  props.board.pins.map((pin) => {
    const wires: { partLabel: string; line: string; colour: string; hold: string | null; part: string }[] =
      pin.kind === "power" || pin.kind === "ground"
        ? props.plan.wires.filter((w) => w.pin === pin.id && w.form === "wire")
        : props.plan.lines.filter((l) => l.pin === pin.id);
    const ghost = props.plan.moves.find((m) => m.from === pin.id);
    const full = label(pin, wires);
    const offer = offers.value?.find((o) => o.pin === pin.id);
    return {
      pin,
      y: pin.position * rowHeight + rowHeight / 2 + 6,
      left: pin.side === "left",
      gpio: pin.gpio !== null && pin.label.replace(/^(GPIO|GP|IO|D)/, "") !== String(pin.gpio) ? String(pin.gpio) : "",
      hazard: pin.hazards.some((h) => serious.includes(h.code)),
      colour: wires[0]?.colour,
      text: full.length > room ? full.slice(0, room - 1) + "…" : full,
      full,
      held: wires.find((w) => w.hold)?.hold,
      ghost: ghost ? `${props.node.parts.find((p) => p.key === ghost.part)?.label ?? ghost.part} ${ghost.line}` : "",
      chosen: wires.some((w) => w.part === chosen.value?.part && w.line === chosen.value.line),
      offer,
      fits: offer?.fits,
    };
  }),
);

function label(pin: Pin, wires: { partLabel: string; line: string }[]): string {
  const first = wires[0];
  if (!first) return "";
  if (wires.length === 1) return `${first.partLabel} ${first.line}`;
  if (pin.kind !== "gpio") return `${wires.length} wires`;
  return `${first.line}: ${wires.map((w) => w.partLabel).join(", ")}`;
}

const lineAt = (pin: Pin) => props.plan.lines.find((l) => l.pin === pin.id);

function pick(pin: Pin) {
  const line = lineAt(pin);
  if (line && !props.wires?.drag.carried.value) chosen.value = { part: line.part, line: line.line };
}

function press(e: PointerEvent, pin: Pin) {
  const line = lineAt(pin);
  if (line && site.canWrite.value) props.wires?.drag.press(e, line);
}

/** Enter chooses the wire on a pin, or lays the one in hand down there; M takes it in hand; arrows go to the next pin. */
async function key(e: KeyboardEvent, pin: Pin) {
  const drag = props.wires?.drag;
  const line = lineAt(pin);
  if (e.key === "Enter") {
    if (drag?.carried.value) await drag.end(pin.id);
    else pick(pin);
  } else if (e.key.toLowerCase() === "m" && line && drag && site.canWrite.value) {
    drag.carry(line);
  } else if (e.key === "ArrowDown" || e.key === "ArrowUp") {
    const pins = [...(e.currentTarget as Element).parentElement!.querySelectorAll<SVGGElement>("g[tabindex='0']")];
    const at = pins.indexOf(e.currentTarget as SVGGElement) + (e.key === "ArrowDown" ? 1 : -1);
    pins[(at + pins.length) % pins.length]?.focus();
  } else return;
  e.preventDefault();
  e.stopPropagation();
}

const focused = (pin: Pin) => props.wires?.drag.carried.value && !props.wires.drag.at.value && props.wires.drag.over(pin.id);

/** What is printed first, as it stands on the drawing; then what a hand needs to know. */
const describe = (t: (typeof teeth.value)[number]) =>
  [t.pin.label, t.gpio, t.text].filter(Boolean).join(" ") +
  ` (${t.pin.gpio === null ? "" : `GPIO${t.pin.gpio}, `}pin ${t.pin.id}): ${t.full || (t.pin.kind === "gpio" ? "free" : t.pin.kind)}.` +
  (t.offer && !t.offer.fits ? ` Unfit: ${t.offer.refusals.join(" ")}` : t.pin.hazards.map((h) => ` ${h.what}`).join(""));
</script>

<template>
  <figure class="sheet min-w-0 overflow-x-auto p-2" :data-comb="plain ? undefined : ''">
    <svg
      :viewBox="`0 0 ${width} ${rows * rowHeight + 12}`"
      class="mx-auto block w-full max-w-[36rem] min-w-[25rem]"
      role="group"
      :aria-label="`Pins of the ${board.label}`"
      font-size="12"
    >
      <rect
        :x="middle.left"
        y="2"
        :width="middle.right - middle.left"
        :height="rows * rowHeight + 8"
        rx="2"
        fill="var(--paper)"
        stroke="var(--rule)"
      />
      <g
        v-for="t in teeth"
        :key="t.pin.id"
        :tabindex="t.pin.kind === 'gpio' ? 0 : -1"
        :role="t.pin.kind === 'gpio' ? 'button' : 'img'"
        :aria-label="describe(t)"
        class="cursor-pointer focus:outline-none [&:focus-visible_.focus]:opacity-100"
        :data-pin="t.pin.kind === 'gpio' && !plain ? t.pin.id : undefined"
        :style="t.colour && t.pin.kind === 'gpio' ? 'touch-action: none' : ''"
        @click="pick(t.pin)"
        @focus="focused(t.pin)"
        @keydown="key($event, t.pin)"
        @pointerdown="press($event, t.pin)"
      >
        <title>{{ describe(t) }}</title>
        <PinTooth :tooth="t" :sides="middle" />
      </g>
    </svg>
    <PinLegend v-if="!plain" :form="board.form" />
  </figure>
</template>
