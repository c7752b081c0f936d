<script setup lang="ts">
/** Several readings held against a trusted one, a line each. */
import { useQueries } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer } from "@/api/client";
import { useSite } from "@/app/site";
import FigureView from "@/kit/FigureView.vue";

const props = defineProps<{ trusted: string; others: { value: string; label: string }[]; hours: number }>();
const site = useSite();
const results = useQueries({
  queries: computed(() =>
    props.others.map((o) => ({
      queryKey: ["compare", site.key.value, props.trusted, o.value, props.hours],
      queryFn: () =>
        answer(
          api.GET("/api/sites/{site}/compare", {
            params: { path: { site: site.key.value }, query: { a: props.trusted, b: o.value, hours: props.hours } },
          }),
        ),
    })),
  ),
});
const rows = computed(() =>
  props.others.map((o, at) => {
    const { data, error } = results.value[at] ?? {};
    const { lines, events } = data ?? {};
    const figures = lines
      ? [lines.bias, lines.agreement, lines.correlation, lines.drift, lines.lag]
      : events
        ? [events.agreement, events.kappa, events.detection, events.release, events.hold]
        : [];
    return { ...o, figures, why: error?.message ?? data?.reasons.join(" ") ?? "comparing…" };
  }),
);
const isLines = computed(() => results.value.some((r) => r.data?.lines));
const heads = computed(() => rows.value.find((r) => r.figures.length)?.figures.map((f) => f.label) ?? []);
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Comparison, scrolls sideways">
    <table class="w-full text-sm" data-compare-table>
      <thead>
        <tr class="border-b border-rule text-left align-bottom">
          <th scope="col" class="py-1 pr-3 font-semibold">{{ isLines ? "The trusted one less" : "Beside the trusted one" }}</th>
          <th v-for="h in heads" :key="h" scope="col" class="py-1 pl-3 text-right font-semibold">{{ h }}</th>
        </tr>
      </thead>
      <tbody class="divide-y divide-rule">
        <tr v-for="r in rows" :key="r.value" class="align-baseline">
          <th scope="row" class="py-1.5 pr-3 text-left font-normal">{{ r.label }}</th>
          <td v-for="f in r.figures" :key="f.label" class="py-1.5 pl-3 text-right"><FigureView :figure="f" band /></td>
          <td v-if="!r.figures.length" :colspan="Math.max(1, heads.length)" class="py-1.5 pl-3 text-faint">{{ r.why }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
