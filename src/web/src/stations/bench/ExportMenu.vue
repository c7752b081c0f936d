<script setup lang="ts">
/** What leaves the bench: tables, the drawing, the pins for a program, and the sheet for the wall. */
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/vue";
import { useSite } from "@/app/site";
import { saveFile } from "@/kit/save-file";

const props = defineProps<{ node: string }>();
const site = useSite();
const files = [
  { kind: "wiring.csv", label: "Wiring table, CSV" },
  { kind: "netlist.csv", label: "Netlist, CSV" },
  { kind: "pins.h", label: "Pins and addresses, C header" },
  { kind: "pins.json", label: "Pins and addresses, JSON" },
];
const href = (kind: string) => `/api/sites/${site.key.value}/nodes/${props.node}/exports/${kind}`;

/** The drawing of the board as a file of its own: the colours in use are written into it. */
function saveDrawing() {
  const svg = document.querySelector<SVGSVGElement>("[data-comb] svg, [data-print-comb] svg");
  if (!svg) return;
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const style = getComputedStyle(document.documentElement);
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[a-z]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
  saveFile(`${props.node}-pins.svg`, new Blob([text], { type: "image/svg+xml" }));
}
const print = () => window.print();
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton
      class="inline-flex min-h-9 items-center gap-1.5 rounded-sm border border-faint bg-sheet px-3 hover:border-act hover:text-act"
      >Print and export</MenuButton
    >
    <MenuItems class="absolute right-0 z-20 mt-1 border border-rule bg-sheet py-1 whitespace-nowrap shadow-lg focus:outline-none">
      <MenuItem v-slot="{ active }"
        ><button
          type="button"
          class="block w-full px-3 py-1.5 text-left"
          :class="active ? 'bg-act text-onact' : ''"
          @click="print"
        >
          Print sheet, two pages A4
        </button></MenuItem
      >
      <MenuItem v-slot="{ active }"
        ><button
          type="button"
          class="block w-full px-3 py-1.5 text-left"
          :class="active ? 'bg-act text-onact' : ''"
          @click="saveDrawing"
        >
          Drawing of the board, SVG
        </button></MenuItem
      >
      <MenuItem v-for="f in files" :key="f.kind" v-slot="{ active }"
        ><a
          :href="href(f.kind)"
          :download="`${node}-${f.kind}`"
          class="block px-3 py-1.5"
          :class="active ? 'bg-act text-onact' : ''"
          >{{ f.label }}</a
        ></MenuItem
      >
    </MenuItems>
  </Menu>
</template>
