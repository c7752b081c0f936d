<script setup lang="ts">
/** The views of a page as tabs; which one is open stands in the address. Each view is a slot by its key. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/vue";
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";

export interface View {
  key: string;
  name: string;
  /** Stands apart at the end. */
  apart?: boolean;
}
const props = defineProps<{ views: View[] }>();
const route = useRoute();
const router = useRouter();
const at = computed({
  get: () =>
    Math.max(
      0,
      props.views.findIndex((v) => v.key === route.query.view),
    ),
  set: (to: number) => void router.replace({ query: to === 0 ? {} : { view: props.views[to]!.key } }),
});
</script>

<template>
  <TabGroup :selected-index="at" @change="(to?: number) => (at = to ?? 0)">
    <TabList class="mb-3 flex gap-1 overflow-x-auto border-b border-rule">
      <Tab v-for="v in views" :key="v.key" v-slot="{ selected }" as="template">
        <button
          class="min-h-9 shrink-0 border-b-2 px-3"
          :class="[
            selected ? 'border-act font-semibold' : 'border-transparent text-faint hover:text-act',
            v.apart ? 'ml-auto' : '',
          ]"
        >
          {{ v.name }}
        </button>
      </Tab>
    </TabList>
    <TabPanels>
      <TabPanel v-for="v in views" :key="v.key" tabindex="-1"><slot :name="v.key" /></TabPanel>
    </TabPanels>
  </TabGroup>
</template>
