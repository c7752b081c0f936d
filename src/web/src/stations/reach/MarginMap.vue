<script setup lang="ts">
/** Links over the plan, by what they have to spare; under them, if wanted, what one receiver hears everywhere. */
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, type PlannedLink } from "@/api/client";
import { usePalette } from "@/app/palette";
import { useMoves } from "@/app/moves";
import { useSite } from "@/app/site";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import PlanText from "@/kit/PlanText.vue";
import PlanSpots from "@/kit/PlanSpots.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { figureText } from "@/kit/format";
import { floorChoices, onFloor } from "@/kit/plan";
import { bandsOf, heatImage } from "./heat-image";

const props = defineProps<{ links: PlannedLink[] }>();
/** Key of the node whose link is looked at. */
const looked = defineModel<string>("looked");
const site = useSite();
const moves = useMoves();
const { palette } = usePalette();
const floor = ref("");
const receiver = ref("");
const design = computed(() => site.design.value!);
const place = computed(() => onFloor(design.value.place, floor.value || null));
const floors = computed(() => floorChoices(design.value.place));
const receivers = computed(() => [
  { value: "", label: "links only" },
  ...(design.value.place.accessPoints ?? []).map((a) => ({ value: a.key, label: `what ${a.label} hears` })),
  ...design.value.nodes
    .filter((n) => props.links.some((l) => l.kind !== "wifi" && l.receiver === n.key))
    .map((n) => ({ value: n.key, label: `what ${n.label} hears` })),
]);
const heat = useQuery({
  queryKey: ["reach-map", site.key, computed(() => site.site.value?.revision), receiver, floor],
  enabled: computed(() => !!receiver.value),
  placeholderData: keepPreviousData,
  queryFn: ({ signal }) =>
    answer(
      api.GET("/api/sites/{site}/reach/map", {
        params: { path: { site: site.key.value }, query: { receiver: receiver.value, floor: floor.value || undefined } },
        signal,
      }),
    ),
});
const map = computed(() => (receiver.value ? heat.data.value : undefined));
const picture = computed(() => (map.value && palette.value ? heatImage(map.value) : ""));
const spotOf = (key: string | null | undefined) => design.value.place.spots.find((s) => s.key === key);
const drawn = computed(() =>
  props.links
    .map((l) => ({ link: l, from: spotOf(l.spot), to: spotOf(l.receiverSpot) }))
    .filter((l) => l.from && l.to && place.value.spots.some((s) => s.key === l.from!.key || s.key === l.to!.key)),
);
/** Ends of these links that hang on another floor: named, since the floor that is shown does not have them. */
const elsewhere = computed(() => {
  const ends = drawn.value.flatMap((l) => [
    { spot: l.from!, label: l.link.label },
    { spot: l.to!, label: l.link.receiverLabel ?? "" },
  ]);
  return ends
    .filter((e, i) => !place.value.spots.includes(e.spot) && ends.findIndex((o) => o.spot === e.spot) === i)
    .map((e) => {
      const on = design.value.place.rooms.find((r) => r.key === e.spot.room)?.floor ?? "";
      return { ...e, floor: floors.value.find((f) => f.value === on)?.label ?? "Ground" };
    });
});
const looks: Record<PlannedLink["verdict"], { stroke: string; width: number; dash?: string }> = {
  good: { stroke: "var(--moss)", width: 0.05 },
  weak: { stroke: "var(--risk)", width: 0.09, dash: "0.3 0.15" },
  none: { stroke: "var(--stop)", width: 0.11, dash: "0.08 0.16" },
  unknown: { stroke: "var(--faint)", width: 0.04, dash: "0.1 0.1" },
};

/** The nodes whose links make up the way of the one that is looked at. */
const lookedAt = computed(() => {
  const route = site.plan.value?.reach.relays.routes.find((r) => r.node === looked.value);
  return new Set([looked.value, ...(route?.over.map((s) => s.node) ?? [])]);
});

type Drawn = (typeof drawn.value)[number];
/** A way from left to right, so that what is written along it stands upright. */
function wayOf(l: Drawn, at: (key: string, x: number, y: number) => { x: number; y: number }) {
  const [from, to] = [at(l.from!.key, l.from!.x, l.from!.y), at(l.to!.key, l.to!.x, l.to!.y)];
  const [left, right] = from.x < to.x ? [from, to] : [to, from];
  return `M${left.x} ${left.y}L${right.x} ${right.y}`;
}
</script>

<template>
  <section aria-label="Margin map">
    <div class="mb-2 flex flex-wrap items-center gap-3">
      <ChoiceStrip v-if="floors.length" v-model="floor" label="Floor" :options="floors" />
      <SelectBox v-if="receivers.length > 1" v-model="receiver" :options="receivers" label="Shown" />
      <span v-if="heat.error.value" class="text-sm text-stop" role="alert">{{ heat.error.value.message }}</span>
      <span v-else-if="receiver && heat.isFetching.value" class="text-sm text-faint" role="status">Working out the map…</span>
    </div>
    <PlanSpots :place="place" :nodes="design.nodes" :movable="site.canWrite.value" @move="moves.spot">
      <template #under>
        <image
          v-if="map"
          :href="picture"
          :x="map.x"
          :y="map.y"
          :width="map.widthMetres"
          :height="map.depthMetres"
          preserveAspectRatio="none"
          style="image-rendering: pixelated"
          class="pointer-events-none"
          data-heat
        />
      </template>
      <template #default="{ at }">
        <g
          v-for="e in elsewhere"
          :key="e.spot.key"
          :transform="`translate(${e.spot.x} ${e.spot.y})`"
          :data-elsewhere="e.spot.key"
        >
          <circle r="0.13" fill="var(--sheet)" stroke="var(--faint)" stroke-width="0.05" stroke-dasharray="0.1 0.06" />
          <PlanText y="0.45" :size="0.26" fill="var(--faint)">{{ e.label }}, {{ e.floor }}</PlanText>
        </g>
        <g v-for="l in drawn" :key="l.link.node" :data-line="l.link.node" @click="looked = l.link.node">
          <path
            :id="`way-${l.link.node}`"
            :d="wayOf(l, at)"
            fill="none"
            :stroke="looks[l.link.verdict].stroke"
            :stroke-width="lookedAt.has(l.link.node) ? 0.14 : looks[l.link.verdict].width"
            :stroke-dasharray="looks[l.link.verdict].dash"
          >
            <title>
              {{ l.link.label }}: {{ figureText(l.link.margin) }} to spare,
              {{ l.link.inTheWay.join(", ") || "nothing in the way" }}
            </title>
          </path>
          <text
            v-if="l.link.margin.value !== null"
            font-size="0.26"
            :fill="looks[l.link.verdict].stroke"
            stroke="var(--sheet)"
            stroke-width="0.1"
            paint-order="stroke"
            dy="-0.08"
          >
            <textPath :href="`#way-${l.link.node}`" startOffset="50%" text-anchor="middle">{{
              figureText(l.link.margin)
            }}</textPath>
          </text>
        </g>
      </template>
    </PlanSpots>
    <ul v-if="map" class="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-sm text-faint" aria-label="Legend">
      <li v-for="b in bandsOf(map)" :key="b.label" class="flex items-center gap-1.5">
        <svg viewBox="0 0 10 10" class="size-3" aria-hidden="true">
          <rect width="10" height="10" :fill="`var(${b.colour})`" :opacity="b.opacity" />
        </svg>
        {{ b.label }}, {{ b.from === -Infinity ? "less" : `from ${Math.round(b.from)} dB` }}
      </li>
      <li>{{ map.heightMetres }} m above the floor</li>
    </ul>
  </section>
</template>
