<script setup lang="ts">
/** What sensors see, and what none of them sees, as shapes of a plan. */
import type { RoomCoverage, Sight } from "@/api/client";
import { outlinePath } from "@/kit/plan";

defineProps<{ sights: Sight[]; rooms: RoomCoverage[] }>();
</script>

<template>
  <g class="pointer-events-none" fill-rule="evenodd">
    <defs>
      <pattern id="blind" width="0.24" height="0.24" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line y2="0.24" stroke="var(--risk)" stroke-width="0.09" />
      </pattern>
    </defs>
    <path
      v-for="s in sights.filter((s) => s.outlines.length)"
      :key="`${s.node} ${s.part}`"
      :d="outlinePath(s.outlines)"
      :data-sight="`${s.node} ${s.part}`"
      fill="var(--moss)"
      fill-opacity="0.16"
      stroke="var(--moss)"
      stroke-width="0.03"
      stroke-opacity="0.7"
    />
    <path v-for="r in rooms" :key="r.room" :d="outlinePath(r.blind)" :data-blind="r.room" fill="url(#blind)" />
  </g>
</template>
