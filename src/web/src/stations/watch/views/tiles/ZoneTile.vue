<script setup lang="ts">
/** A zone with its arming. */
import { computed } from "vue";
import type { TileContent } from "@/api/client";
import { useSite } from "@/app/site";
import ZoneArming from "@/kit/ZoneArming.vue";
import { useZones } from "@/kit/zones";
import { useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "zone" }> }>();
const board = useBoard();
const { zones } = useZones(useSite());
const zone = computed(() => zones.value.find((z) => z.key === props.content.zone));
</script>

<template>
  <ZoneArming v-if="zone" :zone="zone" :now="board.now.value" title />
  <p v-else class="text-sm text-faint">This zone is gone; choose another.</p>
</template>
