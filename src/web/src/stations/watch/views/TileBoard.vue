<script setup lang="ts">
/** The tiles of a view in their rows; arranged by dragging, by buttons and by keys while it is edited. */
import { computed, nextTick, ref } from "vue";
import type { TileData, TileDesign, ViewData, ViewDesign } from "@/api/client";
import { arrowSteps } from "@/kit/plan";
import { useBoard } from "./board";
import TileFrame from "./TileFrame.vue";
import { titleOf } from "./tile-forms";

const props = defineProps<{ view: ViewDesign; data: ViewData | undefined; editing?: boolean; wall?: boolean }>();
const emit = defineEmits<{ change: [tiles: TileDesign[], what: string]; edit: [tile: TileDesign] }>();
const board = useBoard();
const dragged = ref<string>();
const over = ref<string>();
const root = ref<HTMLElement>();
const byKey = computed(() => new Map((props.data?.tiles ?? []).map((t): [string, TileData] => [t.key, t])));
const title = (t: TileDesign) => titleOf(t, board.readings.value);

function moved(key: string, to: number) {
  const tiles = [...props.view.tiles];
  const from = tiles.findIndex((t) => t.key === key);
  const at = Math.max(0, Math.min(tiles.length - 1, to));
  if (from < 0 || from === at) return;
  tiles.splice(at, 0, ...tiles.splice(from, 1));
  emit("change", tiles, `${title(tiles[at]!)} moved`);
}
function resized(tile: TileDesign, width: number, height: number) {
  const clip = (v: number) => Math.max(1, Math.min(4, v));
  const next = { ...tile, width: clip(width), height: clip(height) };
  if (next.width === tile.width && next.height === tile.height) return;
  const tiles = props.view.tiles.map((t) => (t.key === tile.key ? next : t));
  emit("change", tiles, `${title(tile)} is ${next.width} by ${next.height}`);
}
const focus = (key: string) => void nextTick(() => root.value?.querySelector<HTMLElement>(`[data-tile="${key}"]`)?.focus());

function key(e: KeyboardEvent, tile: TileDesign) {
  if (!props.editing || e.target !== e.currentTarget) return;
  const at = props.view.tiles.findIndex((t) => t.key === tile.key);
  const [dx, dy] = arrowSteps[e.key] ?? [0, 0];
  if (dx || dy) {
    e.preventDefault();
    if (e.shiftKey) resized(tile, tile.width + dx!, tile.height + dy!);
    else moved(tile.key, at + (dx || dy)!);
    focus(tile.key);
  } else if (e.key === "Delete") {
    e.preventDefault();
    remove(tile);
  } else if (e.key === "Enter") {
    e.preventDefault();
    emit("edit", tile);
  }
}
function remove(tile: TileDesign) {
  emit(
    "change",
    props.view.tiles.filter((t) => t.key !== tile.key),
    `${title(tile)} removed`,
  );
}
/** Dragging by its title, with a mouse or a finger; Escape lets it stay where it was. */
function grab(e: PointerEvent, tile: TileDesign) {
  if (e.button !== 0) return;
  e.preventDefault();
  dragged.value = tile.key;
  const under = (at: PointerEvent) =>
    document.elementFromPoint(at.clientX, at.clientY)?.closest<HTMLElement>("[data-tile]")?.dataset.tile;
  const ends = new AbortController();
  const end = () => {
    ends.abort();
    dragged.value = over.value = undefined;
  };
  addEventListener("pointermove", (at) => (over.value = under(at)), { signal: ends.signal });
  addEventListener("pointercancel", end, { signal: ends.signal });
  addEventListener("keydown", (k) => k.key === "Escape" && end(), { signal: ends.signal });
  addEventListener(
    "pointerup",
    (at) => {
      const to = props.view.tiles.findIndex((t) => t.key === under(at));
      if (to >= 0) moved(tile.key, to);
      end();
    },
    { signal: ends.signal },
  );
}
</script>

<template>
  <div ref="root" class="board grid grid-cols-1 gap-3 sm:grid-cols-2 lg:grid-cols-4" :class="{ wall }" data-board>
    <TileFrame
      v-for="t in view.tiles"
      :key="t.key"
      :tile="t"
      :data="byKey.get(t.key)"
      :title="title(t)"
      :editing="editing"
      :class="[over === t.key && dragged !== t.key ? 'outline-2 outline-act' : '', dragged === t.key ? 'opacity-60' : '']"
      @keydown="key($event, t)"
      @grab="grab($event, t)"
      @edit="emit('edit', t)"
      @remove="remove(t)"
      @earlier="moved(t.key, view.tiles.indexOf(t) - 1)"
      @later="moved(t.key, view.tiles.indexOf(t) + 1)"
      @size="(w, h) => resized(t, t.width + w, t.height + h)"
    />
  </div>
</template>

<style scoped>
.board {
  grid-auto-flow: row dense;
}
@media (width >= 40rem) {
  .board {
    grid-auto-rows: minmax(8.6rem, auto);
  }
}
.wall {
  grid-auto-rows: minmax(0, 1fr);
}
</style>
