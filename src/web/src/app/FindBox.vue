<script setup lang="ts">
/** Finds nodes, parts, readings, rules, rooms and stations by name. */
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/vue";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import AppDialog from "@/kit/AppDialog.vue";
import { useSite } from "./site";
import { stations } from "./stations";

defineProps<{ open: boolean }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const router = useRouter();
const query = ref("");
const all = computed(() => {
  const d = site.design.value;
  const at = `/${site.key.value}`;
  if (!d) return [];
  return [
    ...stations.map((s) => ({ what: "station", label: s.name, to: `${at}/${s.key}` })),
    ...d.nodes.flatMap((n) => [
      { what: "node", label: n.label, to: `${at}/bench/${n.key}` },
      ...n.parts.map((p) => ({ what: `part of ${n.label}`, label: p.label, to: `${at}/bench/${n.key}` })),
      ...n.readings.map((r) => ({ what: `reading of ${n.label}`, label: r.label, to: `${at}/rhythm/${n.key}` })),
    ]),
    ...(d.views ?? []).map((v) => ({ what: "view", label: v.label, to: `${at}/watch/${v.key}` })),
    ...d.rules.map((r) => ({ what: "rule", label: r.label, to: `${at}/alerts?view=rules` })),
    ...(d.zones ?? []).map((z) => ({ what: "zone", label: z.label, to: `${at}/alerts?view=zones` })),
    ...(d.people ?? []).map((p) => ({ what: "person", label: p.name, to: `${at}/alerts?view=people` })),
    ...d.place.rooms.map((r) => ({ what: "room", label: r.label, to: `${at}/place` })),
    ...d.place.spots.map((s) => ({ what: "spot", label: s.label, to: `${at}/place` })),
  ];
});
const found = computed(() => all.value.filter((i) => i.label.toLowerCase().includes(query.value.toLowerCase())).slice(0, 12));

function go(item: { to: string } | null) {
  if (!item) return;
  emit("close");
  query.value = "";
  void router.push(item.to);
}
</script>

<template>
  <AppDialog :open="open" title="Find" @close="$emit('close')">
    <Combobox :model-value="null" nullable @update:model-value="go">
      <ComboboxInput
        class="field w-full"
        placeholder="A node, part, reading, rule or room"
        aria-label="Find"
        @change="query = $event.target.value"
      />
      <ComboboxOptions static class="mt-2 max-h-80 overflow-auto">
        <ComboboxOption v-for="i in found" :key="i.what + i.label" v-slot="{ active }" :value="i" as="template">
          <li class="flex justify-between gap-3 px-2 py-1.5" :class="active ? 'bg-act text-onact' : ''">
            <span>{{ i.label }}</span><span class="text-sm" :class="active ? '' : 'text-faint'">{{ i.what }}</span>
          </li>
        </ComboboxOption>
      </ComboboxOptions>
      <p v-if="!found.length" class="px-2 py-1.5 text-faint">Nothing in this site has that in its name.</p>
    </Combobox>
  </AppDialog>
</template>
