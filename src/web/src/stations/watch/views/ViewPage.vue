<script setup lang="ts">
/** One view of tiles: looked at, arranged, shared, put on a wall. */
import { keepPreviousData, useQuery } from "@tanstack/vue-query";
import { computed, ref, toRef, watch } from "vue";
import { useRouter } from "vue-router";
import { api, answer, type ReadingView, type TileDesign, type ViewDesign } from "@/api/client";
import { keyFrom, useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import type { Fault } from "@/kit/faults";
import { useSiteTime } from "@/live/clock";
import { newest } from "@/live/live";
import { useReadings } from "../readings";
import { provideBoard } from "./board";
import { useRange } from "./range";
import RangeBar from "./RangeBar.vue";
import ShareDialog from "./ShareDialog.vue";
import TileBoard from "./TileBoard.vue";
import TileDialog from "./TileDialog.vue";
import ViewDialog from "./ViewDialog.vue";

const props = defineProps<{ view: string; wall?: boolean }>();
const router = useRouter();
const site = useSite();
const now = useSiteTime(site);
const range = useRange(now);
const key = toRef(() => props.view);
const { readings } = useReadings(site);
const kept = computed(() => site.design.value?.views?.find((v) => v.key === props.view));
const first = useQuery({
  queryKey: ["view", site.key, key, computed(() => site.site.value?.revision)],
  enabled: computed(() => !!site.design.value && !kept.value),
  placeholderData: (old: ViewDesign | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/views/{view}", {
        params: { path: { site: site.key.value, view: key.value } },
      }),
    ),
});
const view = computed(() => kept.value ?? (first.data.value?.key === props.view ? first.data.value : undefined));
const tilesKey = computed(() => JSON.stringify(view.value?.tiles.map((t) => [t.key, t.content])));
const data = useQuery({
  queryKey: ["view-data", site.key, key, tilesKey, range.stretch],
  enabled: computed(() => !!view.value),
  placeholderData: keepPreviousData,
  gcTime: 30_000,
  queryFn: async ({ signal }) => {
    const { from, to } = range.stretch.value;
    return answer(
      api.GET("/api/sites/{site}/views/{view}/data", {
        params: {
          path: { site: site.key.value, view: key.value },
          query: { from: Math.round(from), to: Math.round(to), points: 600 },
        },
        signal,
      }),
    );
  },
});
const live = computed<ReadingView[]>(() =>
  readings.value.map((r) => {
    const sample = newest.get(`${r.node}/${r.key}`);
    return sample && (!r.newest || sample.t >= r.newest.t) ? { ...r, newest: sample } : r;
  }),
);
provideBoard({
  zone: computed(() => site.design.value?.settings.timeZone ?? "UTC"),
  now,
  readings: live,
  rooms: computed(() => site.design.value?.place.rooms ?? []),
  floors: computed(() => site.design.value?.place.floors ?? []),
  spots: computed(() =>
    (site.design.value?.nodes ?? []).flatMap((n) => {
      const { spots, rooms } = site.design.value!.place;
      const spot = spots.find((s) => s.key === n.spot);
      const floor = rooms.find((r) => r.key === spot?.room)?.floor;
      return spot ? [{ node: n.key, x: spot.x, y: spot.y, floor }] : [];
    }),
  ),
  stretch: range.stretch,
  look: range.look,
});

const editing = ref(false);
const edited = ref<TileDesign | "new">();
const naming = ref(false);
const sharing = ref(false);
const faults = ref<Fault[]>([]);
watch(key, () => (editing.value = false));

async function change(tiles: TileDesign[], what: string) {
  await site.apply(what, [{ kind: "putView", view: { ...kept.value!, tiles } }]);
}
async function saveTile(tile: TileDesign) {
  const tiles = kept.value!.tiles;
  const old = tiles.findIndex((t) => t.key === tile.key);
  const at = old < 0 ? tiles.length : old;
  const next = [...tiles.slice(0, at), tile, ...tiles.slice(at + 1)];
  const done = await site.apply("Tile kept", [{ kind: "putView", view: { ...kept.value!, tiles: next } }], true);
  // The dialog knows its tile, not where in the view it lies.
  faults.value = done.ok ? [] : done.faults.map((f) => ({ ...f, field: f.field?.replace(`view.tiles.${at}.`, "tile.") }));
  if (done.ok) edited.value = undefined;
}
/** Keeps the view that was laid out by itself, to be changed. */
async function keep() {
  const taken = site.design.value!.views!.map((v) => v.key);
  const made = { ...first.data.value!, key: keyFrom("Home", taken), label: "Home" };
  const done = await site.apply(`${made.label} kept`, [{ kind: "putView", view: made }]);
  if (done.ok) await router.push(`/${site.key.value}/watch/${made.key}`);
}
async function remove() {
  const done = await site.apply(`${kept.value!.label} removed; its links open nothing any more`, [
    { kind: "removeView", key: kept.value!.key },
  ]);
  if (done.ok) await router.push(`/${site.key.value}/watch`);
}
</script>

<template>
  <div v-if="!wall" class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
    <RangeBar :range="range" :zone="site.design.value?.settings.timeZone ?? 'UTC'" />
    <span v-if="site.canWrite.value && kept" class="ml-auto flex flex-wrap gap-1">
      <AppButton v-if="editing" kind="lead" @click="edited = 'new'">New tile</AppButton>
      <AppButton v-if="editing" @click="naming = true">Name</AppButton>
      <AppButton v-if="editing" @click="remove">Remove view</AppButton>
      <AppButton :aria-pressed="editing" @click="editing = !editing">{{ editing ? "Done" : "Arrange" }}</AppButton>
      <AppButton v-if="!editing" @click="sharing = true">Share</AppButton>
      <AppButton v-if="!editing" @click="router.push(`/${site.key.value}/wall/${view!.key}`)">Wall</AppButton>
    </span>
    <AppButton v-else-if="site.canWrite.value && view" class="ml-auto" kind="lead" @click="keep">Keep this view</AppButton>
  </div>
  <p v-if="data.error.value" role="alert">{{ data.error.value.message }}</p>
  <p v-else-if="first.error.value && !kept" role="alert">{{ first.error.value.message }}</p>
  <p v-else-if="!view" class="text-faint" role="status">Laying out the view…</p>
  <EmptyState
    v-else-if="!view.tiles.length"
    title="No tiles yet"
    text="A tile shows a figure, lines, lanes of events, a vessel, a counter, the plan, an output or a note."
  >
    <AppButton v-if="site.canWrite.value && kept" kind="lead" @click="((editing = true), (edited = 'new'))">New tile</AppButton>
    <RouterLink v-else :to="`/${site.key.value}/bench`" class="text-act underline">Plan a node at the Bench</RouterLink>
  </EmptyState>
  <TileBoard
    v-else
    :view="view"
    :data="data.data.value"
    :editing="editing"
    :wall="wall"
    @change="change"
    @edit="edited = $event"
  />
  <TileDialog
    v-if="edited && kept"
    :tile="edited === 'new' ? undefined : edited"
    :readings="readings"
    :taken="kept.tiles.map((t) => t.key)"
    :busy="site.busy.value"
    :faults="faults"
    @close="((edited = undefined), (faults = []))"
    @save="saveTile"
  />
  <ViewDialog v-if="naming" :view="kept" @close="naming = false" />
  <ShareDialog v-if="sharing && kept" :view="kept" @close="sharing = false" />
</template>
