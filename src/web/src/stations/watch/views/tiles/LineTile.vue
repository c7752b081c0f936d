<script setup lang="ts">
/** Lines over time: means with the band of lows and highs, each with its dash; limits and episodes drawn in; zoomed by dragging, by wheel and by keys. */
import { useDebounceFn, useElementSize } from "@vueuse/core";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from "vue";
import type { TileContent, TileData } from "@/api/client";
import { usePalette } from "@/app/palette";
import { moment } from "@/kit/format";
import { onSamples } from "@/live/live";
import { useBoard } from "../board";
import { leftOut, takeIn } from "@/stations/watch/gaps";
import { columnsOf, optionsOf, type PlotLine } from "../plot";

const props = defineProps<{ content: Extract<TileContent, { kind: "line" }>; data: TileData | undefined; label: string }>();
const board = useBoard();
const { palette } = usePalette();
const host = useTemplateRef<HTMLDivElement>("host");
const { width, height } = useElementSize(host);
const lines = shallowRef<PlotLine[]>([]);
const hovered = ref<number | null>(null);
let columns: uPlot.AlignedData = [[]];
let plot: uPlot | undefined;
/** While it is dragged or wheeled the chart runs ahead of the address. */
let ahead: { from: number; to: number } | undefined;
const shown = () => ahead ?? board.stretch.value;
const settle = useDebounceFn(() => ahead && board.look(ahead), 250);
const empty = computed(() => props.data && props.data.lines.every((l) => !l.line.t.length));

const shape = () => JSON.stringify(lines.value.map((l) => [l.label, l.scale, l.earlier]));
function take() {
  const made = columnsOf(props.data!, board.readings.value, props.content.joined, props.content.ownAxes);
  lines.value = made.lines;
  columns = made.columns;
  // While it is moved on, an answer to an earlier look does not pull it back.
  if (ahead && ahead.from === board.stretch.value.from && ahead.to === board.stretch.value.to) ahead = undefined;
  else if (!moving) ahead = undefined;
}
function draw() {
  if (!host.value || !props.data || width.value < 40) return;
  plot?.destroy();
  const at = {
    width: width.value,
    height: Math.max(80, height.value),
    zone: board.zone.value,
    stretch: shown,
    data: () => props.data!,
    hover: (i: number | null) => (hovered.value = i),
    zoomed: board.look,
  };
  plot = new uPlot(optionsOf(lines.value, at), columns, host.value);
}
watch(
  () => [props.data, props.content] as const,
  () => {
    if (!props.data) return;
    const before = shape();
    take();
    hovered.value = null;
    // The same lines are only given their new columns: a chart made anew costs many frames.
    if (plot && before === shape()) plot.setData(columns);
    else draw();
  },
);
watch([width, height, palette], () => requestAnimationFrame(draw));
onMounted(() => {
  if (!props.data) return;
  take();
  requestAnimationFrame(draw);
});
onBeforeUnmount(() => plot?.destroy());

// A live sample is put behind the line until the next answer brings it.
let drawn = 0;
onSamples((samples) => {
  if (!plot || ahead) return;
  let changed = false;
  for (const s of samples) {
    const i = lines.value.findIndex((l) => !l.earlier && l.reading?.node === s.node && l.reading.key === s.key);
    const t = s.t / 1000;
    if (i < 0 || s.flags & leftOut) continue;
    changed = takeIn(columns as (number | null | undefined)[][], i, t, s.value) || changed;
  }
  if (changed && Date.now() - drawn > 1000) {
    drawn = Date.now();
    plot.setData(columns);
  }
});

let moving = false;
const rested = useDebounceFn(() => (moving = false), 400);
function move(from: number, to: number) {
  ahead = { from, to };
  moving = true;
  void rested();
  plot?.setScale("x", { min: from / 1000, max: to / 1000 });
  void settle();
}
function wheel(e: WheelEvent) {
  // Plain wheeling scrolls the page.
  if (!plot || (!e.ctrlKey && !e.shiftKey && Math.abs(e.deltaX) < Math.abs(e.deltaY))) return;
  e.preventDefault();
  const { from, to } = shown();
  const length = to - from;
  if (e.ctrlKey) {
    const at = plot.posToVal(e.clientX - plot.over.getBoundingClientRect().left, "x") * 1000;
    const by = Math.exp(e.deltaY / 300);
    move(at - (at - from) * by, at + (to - at) * by);
  } else {
    const by = ((e.deltaX || e.deltaY) / 600) * length;
    move(from + by, to + by);
  }
}
function key(e: KeyboardEvent) {
  const { from, to } = shown();
  const length = to - from;
  const moves: Record<string, [number, number]> = {
    ArrowLeft: [from - length / 5, to - length / 5],
    ArrowRight: [from + length / 5, to + length / 5],
    "+": [from + length / 4, to - length / 4],
    "-": [from - length / 2, to + length / 2],
  };
  const to_ = moves[e.key];
  if (!to_) return;
  e.preventDefault();
  e.stopPropagation();
  move(...to_);
}
const valueAt = (i: number) => {
  const at = hovered.value ?? -1;
  const column = columns[i * 3 + 2] as (number | null | undefined)[] | undefined;
  const v = at >= 0 ? column?.[at] : undefined;
  return v === null || v === undefined ? undefined : v;
};
const text = (l: PlotLine, i: number) => {
  const v = hovered.value === null ? (l.earlier ? undefined : l.reading?.newest?.value) : valueAt(i);
  return v === undefined ? "–" : `${l.decimals >= 0 ? v.toFixed(l.decimals) : Number(v.toPrecision(4))} ${l.unit}`.trim();
};
const when = computed(() =>
  hovered.value === null ? "" : moment((columns[0] as number[])[hovered.value]! * 1000, board.zone.value, true),
);
defineExpose({
  canvas: () => plot?.ctx.canvas,
  table: () => ({
    head: [
      "time",
      ...lines.value.flatMap((l) => [`${l.label} low, ${l.unit}`, `${l.label}, ${l.unit}`, `${l.label} high, ${l.unit}`]),
    ],
    rows: (columns[0] as number[]).map((t, i) => [new Date(t * 1000).toISOString(), ...columns.slice(1).map((c) => c[i] ?? "")]),
  }),
});
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <ul class="flex flex-wrap gap-x-4 text-sm" :aria-label="`Series of ${label}`">
      <li v-for="(l, i) in lines" :key="l.label" class="flex items-center gap-1.5">
        <svg viewBox="0 0 26 6" class="w-6 shrink-0" aria-hidden="true">
          <path
            d="M0 3H26"
            :stroke="l.colour"
            stroke-width="2"
            :stroke-dasharray="l.dash.join(' ')"
            :opacity="l.earlier ? 0.6 : 1"
          />
        </svg>
        <span class="text-faint">{{ l.label }}</span> <span class="mono">{{ text(l, i) }}</span>
      </li>
      <li class="mono ml-auto text-faint">{{ when }}</li>
    </ul>
    <div
      ref="host"
      class="relative min-h-36 min-w-0 flex-1 overflow-hidden"
      tabindex="0"
      role="img"
      :aria-label="`${label}: arrow keys move in time, plus and minus zoom`"
      @wheel="wheel"
      @keydown="key"
    >
      <p v-if="empty" class="absolute inset-0 p-2 text-sm text-faint">Nothing was received in this stretch.</p>
    </div>
  </div>
</template>
