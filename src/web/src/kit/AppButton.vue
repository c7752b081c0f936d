<script setup lang="ts">
/** A button: plain, leading (the one thing to do), or grave (takes something away). */
withDefaults(
  defineProps<{ kind?: "plain" | "lead" | "grave" | "bare"; type?: "button" | "submit"; disabled?: boolean; small?: boolean }>(),
  {
    kind: "plain",
    type: "button",
  },
);
</script>

<template>
  <button
    :type="type"
    :disabled="disabled"
    class="inline-flex items-center justify-center gap-1.5 rounded-sm text-left disabled:opacity-50"
    :class="[
      small ? 'min-h-8 px-2 text-sm' : 'min-h-9 px-3',
      {
        plain: 'border border-faint bg-sheet hover:border-act hover:text-act',
        lead: 'bg-act font-semibold text-onact hover:opacity-90',
        grave: 'border border-stop text-stop hover:bg-stop hover:text-onact',
        bare: 'text-act hover:underline',
      }[kind],
    ]"
  >
    <slot />
  </button>
</template>
