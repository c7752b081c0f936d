<script setup lang="ts">
/** The picture under a floor, with the two points by which it is scaled. */
import type { FloorScan } from "@/api/client";
import type { At } from "./outline";

defineProps<{ site: string; scan: FloorScan; points: At[]; shift?: At }>();
</script>

<template>
  <g :transform="shift ? `translate(${shift.x} ${shift.y})` : undefined">
    <image
      :href="`/api/sites/${site}/place/pictures/${scan.picture}`"
      :width="scan.pixelsWide"
      :height="scan.pixelsHigh"
      preserveAspectRatio="none"
      opacity="0.6"
      :transform="`translate(${scan.x} ${scan.y}) rotate(${scan.turnDegrees ?? 0}) scale(${scan.metresPerPixel})`"
      data-scan-picture
    />
    <g
      v-for="(p, i) in points"
      :key="i"
      :transform="`translate(${p.x} ${p.y})`"
      fill="none"
      stroke="var(--act)"
      stroke-width="0.05"
    >
      <circle r="0.22" />
      <path d="M-0.4 0H0.4M0 -0.4V0.4" />
    </g>
  </g>
</template>
