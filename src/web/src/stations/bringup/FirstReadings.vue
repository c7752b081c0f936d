<script setup lang="ts">
/** The first readings of a node as they come: can they be true? */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, sentence, type FirstVerdict, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const query = useQuery({
  queryKey: ["first-readings", site.key, computed(() => props.node.key)],
  refetchInterval: 5000,
  queryFn: async () => {
    const { data, error } = await api.GET("/api/sites/{site}/nodes/{node}/first-readings", {
      params: { path: { site: site.key.value, node: props.node.key } },
    });
    if (!data) throw new Error(sentence(error));
    return data;
  },
});
const good = (v: FirstVerdict) => v.count >= v.wanted && !v.findings.length;
const worst = (v: FirstVerdict) => v.findings[0]?.severity ?? (good(v) ? ("fine" as const) : ("note" as const));
const shown = (v: FirstVerdict) => {
  if (v.newest === null) return "";
  const decimals = props.node.readings.find((r) => r.key === v.reading)?.decimals ?? 1;
  return `${v.newest.toFixed(decimals)} ${v.unit}`.trim();
};
const said = (v: FirstVerdict) =>
  good(v) ? "can be true" : v.findings.length ? "look at it" : `${v.count} of ${v.wanted} values so far`;
</script>

<template>
  <section class="mt-6 max-w-2xl" data-first>
    <h2 class="text-lg font-semibold">First readings</h2>
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="!node.readings.length" class="text-faint">This node reads nothing yet.</p>
    <ul class="divide-y divide-rule border-y border-rule">
      <li v-for="v in query.data.value ?? []" :key="v.reading" class="py-1.5">
        <div class="flex min-h-9 items-center gap-3">
          <SeverityMark :severity="worst(v)" />
          <span class="min-w-0 flex-1">{{ v.label }}</span>
          <span class="mono">{{ shown(v) }}</span>
          <span class="w-36 shrink-0 text-sm text-faint">{{ said(v) }}</span>
        </div>
        <div v-if="v.findings.length" class="mt-1 mb-2 flex flex-col gap-2">
          <FindingCard v-for="f in v.findings" :key="f.code" :finding="f" />
        </div>
      </li>
    </ul>
  </section>
</template>
