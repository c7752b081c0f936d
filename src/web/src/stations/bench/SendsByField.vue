<script setup lang="ts">
/** By what a node sends, and through whom it is heard: two fields of a form. */
import { computed } from "vue";
import type { NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import FormField from "@/kit/FormField.vue";
import SelectBox from "@/kit/SelectBox.vue";
import { linkHints, linkNames, traitsOf } from "./power";

const props = defineProps<{ node?: string; board: string; viaField: string }>();
const link = defineModel<NodeDesign["link"]>("link", { required: true });
const via = defineModel<string | null>("via", { required: true });
const site = useSite();
const ways = computed(() => site.catalogue.value?.ways.find((w) => w.board === props.board)?.ways ?? []);
const links = computed(() =>
  Object.entries(linkNames).map(([value, label]) => ({
    value: value as NodeDesign["link"],
    label: ways.value.some((w) => w.link === value && !w.boardCan) ? `${label} (not with this board)` : label,
  })),
);
/** What to know of the way to send, and what the client that comes with it does. */
const hint = computed(() => {
  const way = ways.value.find((w) => w.link === link.value);
  const client = way?.clientSends ? "The client for its program sends so." : "The client for its program does not send so yet.";
  return [linkHints[link.value], way?.boardCan ? client : ""].filter(Boolean).join(" ");
});
const gateways = computed(() => {
  const hearers = site.plan.value?.reach.hearers ?? [];
  const needed = traitsOf(link.value, site.usual.value).needsHearer;
  return [
    { value: null as string | null, label: needed ? "nobody yet" : "nobody: it sends for itself" },
    ...site.design
      .value!.nodes.filter((g) => g.key !== props.node && (hearers.includes(g.key) || g.key === via.value))
      .map((g) => ({ value: g.key as string | null, label: g.label })),
  ];
});
</script>

<template>
  <FormField v-slot="{ id }" label="Sends by" :hint="hint"
    ><SelectBox :id="id" v-model="link" :options="links" label="Sends by"
  /></FormField>
  <FormField v-if="gateways.length > 1" v-slot="{ id }" label="Heard through" :field="viaField"
    ><SelectBox :id="id" v-model="via" :options="gateways" label="Heard through"
  /></FormField>
</template>
