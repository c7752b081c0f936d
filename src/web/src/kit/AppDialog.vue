<script setup lang="ts">
/** A dialog: focus stays inside, Escape closes it, what floats has the only shadow. */
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/vue";

defineProps<{ open: boolean; title: string; wide?: boolean }>();
defineEmits<{ close: [] }>();
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="$emit('close')">
    <div class="fixed inset-0 bg-black/30" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto p-3 pt-[8vh]">
      <DialogPanel class="relative w-full border border-rule bg-sheet p-4 shadow-xl" :class="wide ? 'max-w-3xl' : 'max-w-lg'">
        <DialogTitle class="mb-3 pr-8 text-xl font-semibold">{{ title }}</DialogTitle>
        <slot />
        <!-- Last in order, so that the first field has the focus. -->
        <button
          type="button"
          class="absolute top-3 right-3 min-h-9 px-2 text-faint hover:text-ink"
          aria-label="Close"
          @click="$emit('close')"
        >
          ✕
        </button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
