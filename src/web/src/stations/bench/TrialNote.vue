<script setup lang="ts">
/** What the wire in hand would cost at the pin it is over, beside the pointer or at the foot of the window. */
import { computed } from "vue";
import type { Wires } from "./wires";

const props = defineProps<{ wires: Wires }>();
const WIDTH = 300;
const at = computed(() => {
  const p = props.wires.drag.at.value;
  if (!p) return { left: "50%", bottom: "16px", transform: "translateX(-50%)" };
  const left = p.x + 16 + WIDTH > window.innerWidth ? Math.max(4, p.x - WIDTH - 16) : p.x + 16;
  return p.y > window.innerHeight - 140
    ? { left: `${left}px`, bottom: `${window.innerHeight - p.y + 16}px` }
    : { left: `${left}px`, top: `${p.y + 16}px` };
});
const text = computed(() =>
  props.wires.over.value ? (props.wires.trial.value?.text ?? "Working it out…") : "Carry it over a pin; Escape lets go.",
);
</script>

<template>
  <Teleport to="body">
    <div
      v-if="wires.drag.carried.value"
      class="pointer-events-none fixed z-50 w-[300px] max-w-[calc(100vw-8px)] border bg-sheet px-2 py-1 shadow print:hidden"
      :class="wires.over.value && wires.trial.value?.fits === false ? 'border-stop text-stop' : 'border-act'"
      :style="at"
      role="status"
      data-trial
    >
      <strong>{{ wires.wire.value?.partLabel }} {{ wires.wire.value?.line }}</strong>
      <p class="text-sm">{{ text }}</p>
    </div>
  </Teleport>
</template>
