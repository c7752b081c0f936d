<script setup lang="ts">
/** The views of the site, each at its own address. */
import { computed, ref } from "vue";
import { useRoute } from "vue-router";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import ViewDialog from "./ViewDialog.vue";

const site = useSite();
const route = useRoute();
const adding = ref(false);
const views = computed(() => site.design.value?.views ?? []);
const items = computed(() => [
  { key: "", label: "Readings" },
  ...(views.value.length ? views.value : [{ key: "first", label: "First view" }]).map((v) => ({ key: v.key, label: v.label })),
]);
const at = computed(() => String(route.params.node ?? ""));
</script>

<template>
  <nav class="mb-3 flex items-center gap-1 overflow-x-auto border-b border-rule" aria-label="Views">
    <RouterLink
      v-for="v in items"
      :key="v.key"
      :to="`/${site.key.value}/watch${v.key ? `/${v.key}` : ''}`"
      class="flex min-h-11 shrink-0 items-center border-b-2 px-3"
      :class="at === v.key ? 'border-act font-semibold' : 'border-transparent text-faint hover:text-act'"
      :aria-current="at === v.key ? 'page' : undefined"
      >{{ v.label }}</RouterLink
    >
    <AppButton v-if="site.canWrite.value" kind="bare" class="shrink-0" @click="adding = true">New view</AppButton>
    <ViewDialog v-if="adding" @close="adding = false" />
  </nav>
</template>
