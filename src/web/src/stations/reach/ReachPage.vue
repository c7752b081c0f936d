<script setup lang="ts">
/** Who hears whom, through what, with how much to spare; and what the law leaves. */
import { computed, ref } from "vue";
import type { PlannedLink } from "@/api/client";
import { useSite } from "@/app/site";
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
import FitTable from "./FitTable.vue";
import LawTable from "./LawTable.vue";
import LinkTable from "./LinkTable.vue";
import MarginMap from "./MarginMap.vue";
import ChoicesDialog from "./ChoicesDialog.vue";
import RadioDialog from "./RadioDialog.vue";
import RouteTable from "./RouteTable.vue";

const site = useSite();
const links = computed(() => site.plan.value?.reach.links ?? []);
const law = computed(() => site.plan.value?.reach.law ?? []);
const relays = computed(() => site.plan.value?.reach.relays);
const fits = computed(() => site.plan.value?.reach.fits ?? []);
const looked = ref<string>();
const radio = ref<string>();
const asked = ref<PlannedLink>();
const node = computed(() => site.design.value?.nodes.find((n) => n.key === radio.value));
</script>

<template>
  <PageHead title="Reach" asks="Will it get through, by which radio, over which relay?" />
  <EmptyState
    v-if="site.plan.value && !links.length"
    title="Nothing sends by radio here"
    text="A node that sends over Wi-Fi or a radio module, and who hears it, are shown here with what the walls between them take."
  />
  <template v-else-if="links.length">
    <MarginMap v-if="site.design.value?.place.rooms.length" v-model:looked="looked" :links="links" class="mb-4" />
    <LinkTable v-model:looked="looked" :links="links" @radio="radio = $event" @choices="asked = $event" />
    <RouteTable v-if="relays?.routes.length" v-model:looked="looked" :relays="relays" />
    <LawTable v-if="law.length" :law="law" />
    <FitTable v-for="f in fits" :key="f.band" :fit="f" />
    <p class="mt-3 max-w-3xl text-sm text-faint">
      Margin is what the signal has to spare above the weakest that is understood; delivered is with all tries, and without
      collisions, of which Rhythm tells. Metal, wet brick and a body in the way take more: walk it before you screw it on.
    </p>
    <p v-if="!fits.length" class="mt-2 max-w-3xl text-sm text-faint">
      Range walks at Bring-up make the plan follow what is measured, from three places on.
    </p>
    <ChoicesDialog v-if="asked" :link="asked" @close="asked = undefined" />
    <RadioDialog v-if="node" :node="node.key" :label="node.label" @close="radio = undefined" />
  </template>
</template>
