<script setup lang="ts">
/** One pin of a comb: its tooth, its printed label, hazards, and the wire on it or the one that was. */
import { computed } from "vue";
import type { Pin } from "@/api/client";
import { insulation } from "./insulation";

/** A pin as it is drawn. */
export interface Tooth {
  pin: Pin;
  /** The middle of the tooth, down the drawing. */
  y: number;
  left: boolean;
  /** Its number, where the label does not say it. */
  gpio: string;
  hazard: boolean;
  /** Colour of the wire on it; none where there is no wire. */
  colour: string | undefined;
  /** The wire in short. */
  text: string;
  held: string | null | undefined;
  /** The wire that was here before the plan was changed. */
  ghost: string;
  chosen: boolean;
  /** Whether the wire in hand may go here; undefined with none in hand. */
  fits: boolean | undefined;
}
const props = defineProps<{ tooth: Tooth; sides: { left: number; right: number } }>();
const gap = computed(() => (props.tooth.left ? -1 : 1));
const edge = computed(() => (props.tooth.left ? props.sides.left : props.sides.right));
/** Where what stands beside a pin's label begins: past the label. */
const past = computed(() => 12 + props.tooth.pin.label.length * 7.4);
</script>

<template>
  <rect
    class="focus opacity-0"
    :x="tooth.left ? 2 : sides.right - 72"
    :y="tooth.y - 11"
    width="254"
    height="22"
    fill="none"
    stroke="var(--act)"
    stroke-width="2"
  />
  <rect
    v-if="tooth.chosen"
    :x="tooth.left ? 2 : sides.right + 2"
    :y="tooth.y - 11"
    width="180"
    height="22"
    fill="var(--act)"
    opacity="0.14"
  />
  <!-- the tooth, hatched out where it is unfit for the wire in hand -->
  <rect
    :x="tooth.left ? edge - 12 : edge"
    :y="tooth.y - 5"
    width="12"
    height="10"
    :fill="tooth.pin.use === 'never' || tooth.fits === false ? 'var(--rule)' : 'var(--sheet)'"
    stroke="var(--faint)"
  />
  <path
    v-if="tooth.fits === false && tooth.pin.kind === 'gpio'"
    :d="`M${tooth.left ? edge - 12 : edge} ${tooth.y + 5}l12 -10`"
    stroke="var(--stop)"
    stroke-width="1.5"
  />
  <circle v-if="tooth.fits" :cx="edge + gap * 6" :cy="tooth.y" r="3" fill="var(--moss)" />
  <text
    :x="edge - gap * 6"
    :y="tooth.y + 4"
    :text-anchor="tooth.left ? 'start' : 'end'"
    class="mono"
    fill="var(--ink)"
    font-weight="600"
  >
    {{ tooth.pin.label }}
  </text>
  <text
    v-if="tooth.gpio"
    :x="edge - gap * (past + (tooth.hazard ? 12 : 0))"
    :y="tooth.y + 4"
    :text-anchor="tooth.left ? 'start' : 'end'"
    class="mono"
    fill="var(--faint)"
    font-size="10"
  >
    {{ ` ${tooth.gpio}` }}
  </text>
  <!-- a hazard tick: a triangle beside the label -->
  <path v-if="tooth.hazard" :d="`M${edge - gap * (past + 3) - 4} ${tooth.y + 4}h8l-4 -8z`" fill="var(--risk)" />
  <template v-if="tooth.colour">
    <path :d="`M${edge + gap * 12} ${tooth.y}h${gap * 30}`" stroke="var(--faint)" stroke-width="6.5" />
    <path :d="`M${edge + gap * 12} ${tooth.y}h${gap * 30}`" :stroke="insulation(tooth.colour)" stroke-width="4.5" />
    <text :x="edge + gap * 47" :y="tooth.y + 4" :text-anchor="tooth.left ? 'end' : 'start'" fill="var(--ink)">
      {{ ` ${tooth.text}` }}
    </text>
    <circle
      v-if="tooth.held === 'soldered'"
      :cx="edge + gap * 14"
      :cy="tooth.y"
      r="4.5"
      fill="var(--faint)"
      stroke="var(--ink)"
    />
    <rect
      v-else-if="tooth.held === 'locked'"
      :x="edge + gap * 14 - 4"
      :y="tooth.y - 4"
      width="8"
      height="8"
      fill="var(--sheet)"
      stroke="var(--ink)"
      stroke-width="1.5"
    />
  </template>
  <text
    v-else-if="tooth.ghost"
    :x="edge + gap * 47"
    :y="tooth.y + 4"
    :text-anchor="tooth.left ? 'end' : 'start'"
    fill="var(--faint)"
    text-decoration="line-through"
  >
    {{ tooth.ghost }}
  </text>
</template>
