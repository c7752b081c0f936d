<script setup lang="ts">
/** A reading's line on canvas (uPlot): its mean, with the band from lowest to highest; gaps where nothing came. */
import { useQuery } from "@tanstack/vue-query";
import { useElementSize } from "@vueuse/core";
import uPlot from "uplot";
import { zonedDate } from "@/kit/zoned";
import "uplot/dist/uPlot.min.css";
import { computed, onBeforeUnmount, onMounted, toRef, useTemplateRef, watch } from "vue";
import { api, answer, type ReadingView } from "@/api/client";
import { usePalette } from "@/app/palette";
import { useSite } from "@/app/site";
import { useSiteTime } from "@/live/clock";
import { onSamples } from "@/live/live";
import { cssColour, episodeBands, limitLines } from "./alert-marks";
import { leftOut, takeIn, withGaps, type Columns } from "./gaps";

const props = defineProps<{ reading: ReadingView; hours: number }>();
const site = useSite();
const now = useSiteTime(site);
const { palette } = usePalette();
const host = useTemplateRef<HTMLDivElement>("host");
const { width } = useElementSize(host);
const height = 96;
const hours = toRef(() => props.hours);
const line = useQuery({
  queryKey: ["line", site.key, toRef(() => props.reading.node), toRef(() => props.reading.key), hours],
  queryFn: async () => {
    const to = Math.round(now.value) + 60_000;
    return answer(
      api.GET("/api/sites/{site}/readings/{node}/{key}/line", {
        params: {
          path: { site: site.key.value, node: props.reading.node, key: props.reading.key },
          query: { from: to - hours.value * 3_600_000, to },
        },
      }),
    );
  },
});
const empty = computed(() => line.data.value && line.data.value.t.length === 0);
let columns: Columns = [[], [], [], []];
let plot: uPlot | undefined;
let drawn = 0;

function options(): uPlot.Options {
  const axis = {
    stroke: cssColour("--faint"),
    grid: { stroke: cssColour("--rule"), width: 1 },
    ticks: { show: false },
    font: "12px Source Sans 3 Variable",
  };
  const zone = site.design.value?.settings.timeZone ?? "UTC";
  return {
    width: Math.max(width.value, 120),
    height,
    tzDate: zonedDate(zone),
    legend: { show: false },
    cursor: { show: false },
    padding: [6, 18, 0, 0],
    scales: { x: { time: true, range: () => [(now.value - hours.value * 3_600_000) / 1000, now.value / 1000] } },
    axes: [
      {
        ...axis,
        space: 70,
        size: 22,
        values: [
          [3600, "{HH}:{mm}", null, null, null, null, null, null, 1],
          [60, "{HH}:{mm}", null, null, null, null, null, null, 1],
          [1, "{HH}:{mm}:{ss}", null, null, null, null, null, null, 1],
        ],
      },
      { ...axis, space: 30, size: 46 },
    ],
    series: [
      {},
      { stroke: "transparent", points: { show: false } },
      { stroke: cssColour("--act"), width: 1.6, points: { show: false } },
      { stroke: "transparent", points: { show: false } },
    ],
    bands: [{ series: [3, 1], fill: cssColour("--act") + "33" }],
    hooks: {
      drawClear: [(u) => episodeBands(u, props.reading.open, now.value)],
      draw: [(u) => limitLines(u, props.reading.limits, () => "y")],
    },
  };
}

function draw() {
  if (!host.value) return;
  plot?.destroy();
  plot = new uPlot(options(), columns as uPlot.AlignedData, host.value);
}

watch(line.data, (d) => {
  if (!d) return;
  columns = withGaps(d, props.reading.longestGapMs);
  draw();
});
const marks = computed(() => JSON.stringify([props.reading.open, props.reading.limits]));
watch([width, palette, marks], () => requestAnimationFrame(draw));
onMounted(draw);
onBeforeUnmount(() => plot?.destroy());
onSamples((samples) => {
  const mine = samples.filter((s) => s.node === props.reading.node && s.key === props.reading.key && (s.flags & leftOut) === 0);
  if (!mine.length) return;
  for (const s of mine) takeIn(columns, 0, s.t / 1000, s.value);
  // One frame of drawing a second is plenty for a line of hours.
  if (Date.now() - drawn > 1000) {
    drawn = Date.now();
    plot?.setData(columns as uPlot.AlignedData);
  }
});
</script>

<template>
  <div
    ref="host"
    class="min-w-0 overflow-hidden"
    :style="{ minHeight: `${height}px` }"
    role="img"
    :aria-label="`${reading.label} over the last ${hours} hours`"
  >
    <p v-if="empty" class="pt-2 text-sm text-faint">Nothing was received in this stretch.</p>
  </div>
</template>
