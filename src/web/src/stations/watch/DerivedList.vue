<script setup lang="ts">
/** Readings that are worked out: their figures and lines, how they are made, and the making of new ones. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type DerivedDesign, type ReadingView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { duration } from "@/kit/format";
import { say } from "@/kit/notices";
import { choiceOf, derivedNode, useDerivedChoices } from "./derived";
import DerivedDialog from "./DerivedDialog.vue";
import ReadingTile from "./ReadingTile.vue";

const props = defineProps<{ readings: ReadingView[]; hours: number; now: number }>();
const site = useSite();
const edited = ref<DerivedDesign | "new">();
const choices = useDerivedChoices(site);
const list = computed(() => site.design.value?.derived ?? []);
const query = useQuery({
  queryKey: ["derived", site.key, computed(() => list.value.length)],
  enabled: computed(() => list.value.length > 0),
  // While the past is worked out, how far it is.
  refetchInterval: (q) => (q.state.data?.some((d) => d.work) ? 1_000 : 15_000),
  queryFn: () => answer(api.GET("/api/sites/{site}/derived", { params: { path: { site: site.key.value } } })),
});
const reading = (key: string) => props.readings.find((r) => r.node === derivedNode && r.key === key);
const missed = (key: string) => query.data.value?.find((d) => d.derived.key === key)?.missedMs ?? 0;
const work = (key: string) => query.data.value?.find((d) => d.derived.key === key)?.work;

async function again(d: DerivedDesign) {
  const { error } = await api.POST("/api/sites/{site}/derived/{key}/again", {
    params: { path: { site: site.key.value, key: d.key } },
  });
  say(error ? sentence(error) : `${d.label} is worked out anew`, { bad: !!error });
  await query.refetch();
}
async function remove(d: DerivedDesign) {
  await site.apply(`${d.label} is worked out no more; its values stay`, [{ kind: "removeDerived", key: d.key }]);
}
</script>

<template>
  <section class="mb-6" aria-label="Worked out">
    <h2 class="mb-1 flex flex-wrap items-baseline gap-3 border-b border-rule pb-1 text-lg font-semibold">
      Worked out
      <AppButton v-if="site.canWrite.value" kind="bare" small @click="edited = 'new'">Work a reading out</AppButton>
    </h2>
    <p v-if="!list.length" class="text-faint">
      Dew point, mould, degree days, running hours, sums, presence of several sensors: stored and told like what is measured.
    </p>
    <div class="grid gap-x-6 gap-y-3 md:grid-cols-2">
      <div v-for="d in list" :key="d.key" class="min-w-0" :data-derived="d.key">
        <ReadingTile v-if="reading(d.key)" :reading="reading(d.key)!" :hours="hours" :now="now" />
        <p v-if="work(d.key)" class="text-sm" role="status">
          Its past is being worked out: {{ Math.round(work(d.key)!.share * 100) }} %
        </p>
        <p class="flex flex-wrap items-center gap-1 text-sm text-faint">
          <span class="mr-2">{{ choiceOf(choices, d.from.kind)?.label }}</span>
          <span v-if="missed(d.key) >= 60_000" class="mr-2 text-ink"
            >{{ duration(missed(d.key)) }} without values are not counted</span
          >
          <template v-if="site.canWrite.value">
            <AppButton small kind="bare" :aria-label="`Edit ${d.label}`" @click="edited = d">Edit</AppButton>
            <AppButton small kind="bare" :aria-label="`Work out anew: ${d.label}`" @click="again(d)">Work out anew</AppButton>
            <AppButton small kind="bare" :aria-label="`Remove ${d.label}`" @click="remove(d)">Remove</AppButton>
          </template>
        </p>
      </div>
    </div>
    <DerivedDialog
      v-if="edited && choices"
      :derived="edited === 'new' ? undefined : edited"
      :readings="readings"
      :choices="choices"
      @close="edited = undefined"
    />
  </section>
</template>
