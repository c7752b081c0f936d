<script setup lang="ts">
/** A tile with its title; while the view is edited, with its handles; else with what it can be saved as. */
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/vue";
import { computed, ref, useTemplateRef } from "vue";
import type { TileData, TileDesign } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import { say } from "@/kit/notices";
import { canvasPicture, csvText, svgPicture, svgText } from "./export";
import { saveFile } from "@/kit/save-file";
import OpenMark from "../OpenMark.vue";
import { find, useBoard } from "./board";
import { readingsOf } from "./tile-forms";
import CounterTile from "./tiles/CounterTile.vue";
import FigureTile from "./tiles/FigureTile.vue";
import LanesTile from "./tiles/LanesTile.vue";
import LineTile from "./tiles/LineTile.vue";
import NodesTile from "./tiles/NodesTile.vue";
import OutputTile from "./tiles/OutputTile.vue";
import PlanTile from "./tiles/PlanTile.vue";
import SequenceTile from "./tiles/SequenceTile.vue";
import VesselTile from "./tiles/VesselTile.vue";
import ZoneTile from "./tiles/ZoneTile.vue";

const props = defineProps<{ tile: TileDesign; data: TileData | undefined; title: string; editing?: boolean }>();
defineEmits<{ edit: []; remove: []; earlier: []; later: []; grab: [e: PointerEvent]; size: [width: number, height: number] }>();
const inside = ref<{ canvas?: () => HTMLCanvasElement | undefined; table?: () => { head: string[]; rows: unknown[][] } }>();
const body = useTemplateRef<HTMLElement>("body");
const board = useBoard();
const content = computed(() => props.tile.content);
const raising = computed(() =>
  readingsOf(content.value)
    .map((of) => find(board.readings.value, of))
    .filter((r) => r !== undefined)
    .filter((r) => r.open.length),
);
const name = computed(() => props.title.toLowerCase().replace(/[^a-z0-9]+/g, "-") || "tile");
const drawn = computed(() => ["vessel", "counter", "plan"].includes(content.value.kind));
const tabled = computed(() => ["line", "lanes", "counter", "sequence"].includes(content.value.kind));
const rows = ["", "row-span-1", "row-span-2", "row-span-3", "row-span-4"];
const columns = ["", "lg:col-span-1", "sm:col-span-2", "sm:col-span-2 lg:col-span-3", "sm:col-span-2 lg:col-span-4"];

async function save(as: "png" | "svg" | "csv") {
  try {
    const svg = body.value?.querySelector<SVGSVGElement>("svg[role=img]");
    const canvas = inside.value?.canvas?.();
    if (as === "csv" && inside.value?.table)
      saveFile(`${name.value}.csv`, new Blob([csvText(inside.value.table())], { type: "text/csv" }));
    else if (as === "svg" && svg) saveFile(`${name.value}.svg`, new Blob([svgText(svg)], { type: "image/svg+xml" }));
    else if (as === "png" && canvas) saveFile(`${name.value}.png`, await canvasPicture(canvas, props.title));
    else if (as === "png" && svg) saveFile(`${name.value}.png`, await svgPicture(svg));
  } catch {
    say("The browser could not make the picture.", { bad: true });
  }
}
</script>

<template>
  <article
    class="tile sheet flex min-w-0 flex-col overflow-hidden p-3"
    :class="[columns[tile.width], rows[tile.height], raising.length ? 'border-l-4! border-l-stop!' : '']"
    :style="{ '--rows': tile.height }"
    :tabindex="editing ? 0 : undefined"
    :data-tile="tile.key"
    :aria-label="editing ? `${title}, ${tile.width} by ${tile.height}. Arrow keys move it, with shift they resize it.` : title"
  >
    <header
      class="flex items-start justify-between gap-2"
      :class="editing ? '-mx-3 -mt-3 mb-1 cursor-grab touch-none px-3 pt-3 pb-1' : ''"
      @pointerdown="editing && $emit('grab', $event)"
    >
      <h3 class="min-w-0 truncate text-faint select-none" :title="title">
        {{ title }}
      </h3>
      <Menu v-if="!editing && (tabled || drawn)" as="div" class="relative -mt-1 -mr-1 shrink-0">
        <MenuButton class="min-h-8 min-w-8 text-faint hover:text-act" :aria-label="`Save ${title}`">⋯</MenuButton>
        <MenuItems class="absolute right-0 z-20 border border-rule bg-sheet py-1 whitespace-nowrap shadow-lg focus:outline-none">
          <MenuItem v-if="drawn || content.kind === 'line'" v-slot="{ active }"
            ><button class="block w-full px-3 py-2 text-left" :class="active ? 'bg-act text-onact' : ''" @click="save('png')">
              Save as PNG
            </button></MenuItem
          >
          <MenuItem v-if="drawn" v-slot="{ active }"
            ><button class="block w-full px-3 py-2 text-left" :class="active ? 'bg-act text-onact' : ''" @click="save('svg')">
              Save as SVG
            </button></MenuItem
          >
          <MenuItem v-if="tabled" v-slot="{ active }"
            ><button class="block w-full px-3 py-2 text-left" :class="active ? 'bg-act text-onact' : ''" @click="save('csv')">
              Save as CSV
            </button></MenuItem
          >
        </MenuItems>
      </Menu>
    </header>
    <div v-if="editing" class="mb-1 flex flex-wrap gap-1" role="group" :aria-label="`Arrange ${title}`">
      <AppButton small :aria-label="`Move ${title} earlier`" @click="$emit('earlier')">←</AppButton>
      <AppButton small :aria-label="`Move ${title} later`" @click="$emit('later')">→</AppButton>
      <AppButton small :aria-label="`${title} wider`" :disabled="tile.width > 3" @click="$emit('size', 1, 0)">↔+</AppButton>
      <AppButton small :aria-label="`${title} narrower`" :disabled="tile.width < 2" @click="$emit('size', -1, 0)">↔−</AppButton>
      <AppButton small :aria-label="`${title} taller`" :disabled="tile.height > 3" @click="$emit('size', 0, 1)">↕+</AppButton>
      <AppButton small :aria-label="`${title} lower`" :disabled="tile.height < 2" @click="$emit('size', 0, -1)">↕−</AppButton>
      <AppButton small :aria-label="`Edit ${title}`" @click="$emit('edit')">Edit</AppButton>
      <AppButton small :aria-label="`Remove ${title}`" @click="$emit('remove')">Remove</AppButton>
    </div>
    <OpenMark :readings="raising" :now="board.now.value" />
    <div ref="body" class="flex min-h-0 flex-1 flex-col">
      <FigureTile v-if="content.kind === 'figure'" :content="content" :data="data" />
      <LineTile v-else-if="content.kind === 'line'" ref="inside" :content="content" :data="data" :label="title" />
      <LanesTile v-else-if="content.kind === 'lanes'" ref="inside" :content="content" :data="data" />
      <VesselTile v-else-if="content.kind === 'vessel'" :content="content" :data="data" />
      <CounterTile v-else-if="content.kind === 'counter'" ref="inside" :content="content" :data="data" />
      <PlanTile v-else-if="content.kind === 'plan'" :content="content" />
      <NodesTile v-else-if="content.kind === 'nodes'" :data="data" />
      <OutputTile v-else-if="content.kind === 'output'" :content="content" />
      <SequenceTile v-else-if="content.kind === 'sequence'" ref="inside" :content="content" :data="data" />
      <ZoneTile v-else-if="content.kind === 'zone'" :content="content" />
      <p v-else class="overflow-y-auto whitespace-pre-wrap">{{ content.text }}</p>
    </div>
  </article>
</template>

<style scoped>
@media (width >= 40rem) {
  .tile {
    min-height: calc(var(--rows) * 8.6rem);
  }
}
</style>
