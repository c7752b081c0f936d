<script setup lang="ts">
/** A label for the housing: name, what a person needs who opens it in three years, and a code that leads here. Printed at 62 × 29 mm. */
import { useQuery } from "@tanstack/vue-query";
import { computed, onMounted, onUnmounted } from "vue";
import { api, answer, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const query = useQuery({
  queryKey: ["label", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  placeholderData: (old) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/label", {
        params: { path: { site: site.key.value, node: props.node.key } },
      }),
    ),
});
const label = computed(() => query.data.value);
const size = computed(() => label.value?.code.length ?? 0);
/** The dark modules, a stretch of a row at a time. */
const path = computed(() =>
  (label.value?.code ?? [])
    .flatMap((row, y) => [...row.matchAll(/1+/g)].map((m) => `M${m.index} ${y}h${m[0].length}v1h-${m[0].length}z`))
    .join(""),
);
const print = () => window.print();
// While the label is in view, printing prints it and nothing else.
onMounted(() => document.body.classList.add("prints-label"));
onUnmounted(() => document.body.classList.remove("prints-label"));
</script>

<template>
  <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
  <section v-if="label" class="max-w-2xl" data-label>
    <p class="mb-3 text-faint">
      For the lid of the housing. The code leads to <span class="mono break-all">{{ label.address }}</span>: open this page at the
      address that phones reach.
    </p>
    <Teleport to="body">
      <div class="label hidden print:flex" aria-hidden="true">
        <svg :viewBox="`-4 -4 ${size + 8} ${size + 8}`" class="h-full" shape-rendering="crispEdges"><path :d="path" /></svg>
        <div class="min-w-0 py-[1mm]">
          <p class="text-[13pt] leading-tight font-semibold">{{ label.name }}</p>
          <p v-for="f in label.facts" :key="f" class="text-[7pt] leading-tight">{{ f }}</p>
        </div>
      </div>
    </Teleport>
    <div class="mb-4 flex w-full max-w-md items-stretch gap-2 border border-faint bg-white p-1 text-black">
      <svg
        :viewBox="`-4 -4 ${size + 8} ${size + 8}`"
        class="w-36 shrink-0"
        shape-rendering="crispEdges"
        role="img"
        :aria-label="`QR code of ${label.address}`"
      >
        <path :d="path" />
      </svg>
      <div class="min-w-0 py-2">
        <p class="text-lg leading-tight font-semibold">{{ label.name }}</p>
        <p v-for="f in label.facts" :key="f" class="text-sm leading-snug break-words">{{ f }}</p>
      </div>
    </div>
    <AppButton kind="lead" class="min-h-11" @click="print">Print the label</AppButton>
  </section>
</template>

<style>
@media print {
  .prints-label #app {
    display: none;
  }
  .label {
    width: 62mm;
    height: 29mm;
    gap: 1mm;
    color: black;
    background: white;
  }
}
</style>
