<script setup lang="ts">
/** Words on a plan, legible over whatever lies under them. */
withDefaults(defineProps<{ size?: number; bold?: boolean; fill?: string }>(), { size: 0.28, fill: "var(--ink)" });
</script>

<template>
  <text
    text-anchor="middle"
    :font-size="size"
    :font-weight="bold ? 600 : undefined"
    :fill="fill"
    stroke="var(--sheet)"
    :stroke-width="size / 2"
    paint-order="stroke"
  >
    <slot />
  </text>
</template>
