<script setup lang="ts">
/** A dialog with a form: one thing to do, and a way out that loses nothing but what was typed here. */
import { nextTick, useTemplateRef, watch } from "vue";
import AppButton from "./AppButton.vue";
import AppDialog from "./AppDialog.vue";
import { provideFaults, type Fault } from "./faults";

const props = defineProps<{ title: string; save: string; busy: boolean; wide?: boolean; faults?: Fault[] }>();
defineEmits<{ close: []; save: [] }>();
const others = provideFaults(() => props.faults ?? []);
const form = useTemplateRef("form");
/** What was refused may be out of sight: the first such field is gone to. */
watch(
  () => props.faults,
  async (faults) => {
    if (!faults?.length) return;
    await nextTick();
    const field = form.value?.querySelector<HTMLElement>("[aria-invalid=true]");
    if (field) field.focus();
    else form.value?.querySelector("[role=alert]")?.scrollIntoView({ block: "center" });
  },
  { deep: true },
);
</script>

<template>
  <AppDialog open :title="title" :wide="wide" @close="$emit('close')">
    <form ref="form" class="flex flex-col gap-3 [&_:is(input,button)]:scroll-mb-20" novalidate @submit.prevent="$emit('save')">
      <slot />
      <p v-for="f in others" :key="f.says" class="text-sm text-stop" role="alert">{{ f.says }}</p>
      <!-- In view and in one place, whatever is worked out and grows above it. -->
      <div class="sticky -bottom-3 -mx-4 -mb-4 flex gap-2 border-t border-rule bg-sheet px-4 py-3">
        <AppButton kind="lead" type="submit" :disabled="busy">{{ save }}</AppButton>
        <AppButton @click="$emit('close')">Cancel</AppButton>
      </div>
    </form>
  </AppDialog>
</template>
