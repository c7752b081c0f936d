<script setup lang="ts">
/** The board as two combs of teeth in their true order: printed label, hazards, and the wire on each; ghosts where a wire was. */
import { computed } from "vue";
import type { BenchPlan, Board, NodeDesign, Pin } from "@/api/client";
import { useSite } from "@/app/site";
import { insulation } from "./insulation";
import type { Wires } from "./wires";

const props = defineProps<{ board: Board; plan: BenchPlan; node: NodeDesign; wires?: Wires; plain?: boolean }>();
const offers = computed(() => (props.plain ? undefined : props.wires?.choices.value?.offers));
const chosen = defineModel<{ part: string; line: string }>("chosen");
const site = useSite();
const rowHeight = 24;
const width = 482;
const middle = { left: 176, right: 306 };
/** Where what stands beside a pin's label begins: past the label. */
const past = (pin: Pin) => 12 + pin.label.length * 7.4;
const rows = computed(() => Math.max(...props.board.pins.map((p) => p.position)) + 1);
const serious = ["strapHigh", "strapLow", "strapLoaderLow", "bootPulse", "flash", "console", "psram"];

const teeth = computed(() =>
  props.board.pins.map((pin) => {
    const wires: { partLabel: string; line: string; colour: string; hold: string | null; part: string }[] =
      pin.kind === "power" || pin.kind === "ground"
        ? props.plan.wires.filter((w) => w.pin === pin.id && w.form === "wire")
        : props.plan.lines.filter((l) => l.pin === pin.id);
    const ghost = props.plan.moves.filter((m) => m.from === pin.id);
    const text = label(pin, wires);
    const room = 22;
    return {
      pin,
      wires,
      ghost,
      y: pin.position * rowHeight + rowHeight / 2 + 6,
      left: pin.side === "left",
      text: text.length > room ? text.slice(0, room - 1) + "…" : text,
      full: text,
      held: wires.find((w) => w.hold)?.hold,
      chosen: wires.some((w) => w.part === chosen.value?.part && w.line === chosen.value?.line),
      hazard: pin.hazards.filter((h) => serious.includes(h.code)),
      offer: offers.value?.find((o) => o.pin === pin.id),
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
  [t.pin.label, showsGpio(t.pin) ? String(t.pin.gpio) : "", t.text].filter(Boolean).join(" ") +
  ` (${t.pin.gpio === null ? "" : `GPIO${t.pin.gpio}, `}pin ${t.pin.id}): ${t.full || (t.pin.kind === "gpio" ? "free" : t.pin.kind)}.` +
  (t.offer && !t.offer.fits ? ` Unfit: ${t.offer.refusals.join(" ")}` : t.pin.hazards.map((h) => ` ${h.what}`).join(""));
const showsGpio = (pin: Pin) => pin.gpio !== null && pin.label.replace(/^(GPIO|GP|IO|D)/, "") !== String(pin.gpio);
const gap = (t: (typeof teeth.value)[number]) => (t.left ? -1 : 1);
const edge = (t: (typeof teeth.value)[number]) => (t.left ? middle.left : middle.right);
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
        :style="t.wires.length && t.pin.kind === 'gpio' ? 'touch-action: none' : ''"
        @click="pick(t.pin)"
        @focus="focused(t.pin)"
        @keydown="key($event, t.pin)"
        @pointerdown="press($event, t.pin)"
      >
        <title>{{ describe(t) }}</title>
        <rect
          class="focus opacity-0"
          :x="t.left ? 2 : middle.right - 72"
          :y="t.y - 11"
          width="254"
          height="22"
          fill="none"
          stroke="var(--act)"
          stroke-width="2"
        />
        <rect
          v-if="t.chosen"
          :x="t.left ? 2 : middle.right + 2"
          :y="t.y - 11"
          width="180"
          height="22"
          fill="var(--act)"
          opacity="0.14"
        />
        <!-- the tooth, hatched out where it is unfit for the wire in hand -->
        <rect
          :x="t.left ? edge(t) - 12 : edge(t)"
          :y="t.y - 5"
          width="12"
          height="10"
          :fill="t.pin.use === 'never' || (offers && t.offer && !t.offer.fits) ? 'var(--rule)' : 'var(--sheet)'"
          stroke="var(--faint)"
        />
        <path
          v-if="offers && t.offer && !t.offer.fits && t.pin.kind === 'gpio'"
          :d="`M${t.left ? edge(t) - 12 : edge(t)} ${t.y + 5}l12 -10`"
          stroke="var(--stop)"
          stroke-width="1.5"
        />
        <circle v-if="offers && t.offer?.fits" :cx="edge(t) + gap(t) * 6" :cy="t.y" r="3" fill="var(--moss)" />
        <text
          :x="edge(t) - gap(t) * 6"
          :y="t.y + 4"
          :text-anchor="t.left ? 'start' : 'end'"
          class="mono"
          fill="var(--ink)"
          font-weight="600"
        >
          {{ t.pin.label }}
        </text>
        <text
          v-if="showsGpio(t.pin)"
          :x="edge(t) - gap(t) * (past(t.pin) + (t.hazard.length ? 12 : 0))"
          :y="t.y + 4"
          :text-anchor="t.left ? 'start' : 'end'"
          class="mono"
          fill="var(--faint)"
          font-size="10"
        >
          {{ ` ${t.pin.gpio}` }}
        </text>
        <!-- a hazard tick: a triangle beside the label -->
        <path v-if="t.hazard.length" :d="`M${edge(t) - gap(t) * (past(t.pin) + 3) - 4} ${t.y + 4}h8l-4 -8z`" fill="var(--risk)" />
        <template v-if="t.wires.length">
          <path :d="`M${edge(t) + gap(t) * 12} ${t.y}h${gap(t) * 30}`" stroke="var(--faint)" stroke-width="6.5" />
          <path
            :d="`M${edge(t) + gap(t) * 12} ${t.y}h${gap(t) * 30}`"
            :stroke="insulation(t.wires[0]!.colour)"
            stroke-width="4.5"
          />
          <text :x="edge(t) + gap(t) * 47" :y="t.y + 4" :text-anchor="t.left ? 'end' : 'start'" fill="var(--ink)">
            {{ ` ${t.text}` }}
          </text>
          <circle
            v-if="t.held === 'soldered'"
            :cx="edge(t) + gap(t) * 14"
            :cy="t.y"
            r="4.5"
            fill="var(--faint)"
            stroke="var(--ink)"
          />
          <rect
            v-else-if="t.held === 'locked'"
            :x="edge(t) + gap(t) * 14 - 4"
            :y="t.y - 4"
            width="8"
            height="8"
            fill="var(--sheet)"
            stroke="var(--ink)"
            stroke-width="1.5"
          />
        </template>
        <text
          v-else-if="t.ghost.length"
          :x="edge(t) + gap(t) * 47"
          :y="t.y + 4"
          :text-anchor="t.left ? 'end' : 'start'"
          fill="var(--faint)"
          text-decoration="line-through"
        >
          {{ node.parts.find((p) => p.key === t.ghost[0]!.part)?.label ?? t.ghost[0]!.part }} {{ t.ghost[0]!.line }}
        </text>
      </g>
    </svg>
    <figcaption v-if="!plain" class="flex flex-wrap gap-x-4 gap-y-1 px-1 pt-1 text-sm text-faint">
      <span>{{ board.form }}.</span>
      <span
        ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5"><path d="M1 9h8L5 1z" fill="var(--risk)" /></svg>hazard</span
      >
      <span
        ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5">
          <circle cx="5" cy="5" r="4" fill="var(--faint)" stroke="var(--ink)" /></svg
        >soldered</span
      >
      <span
        ><svg viewBox="0 0 10 10" class="mr-1 inline size-2.5">
          <rect x="1.5" y="1.5" width="7" height="7" fill="var(--sheet)" stroke="var(--ink)" /></svg
        >fixed by you</span
      >
      <span
        >Choose a wire to see which pins fit it; drag it onto another pin to see what that costs. By keyboard: M takes it in hand,
        arrows go from pin to pin, Enter lays it down.</span
      >
    </figcaption>
  </figure>
</template>
