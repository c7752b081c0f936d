<script setup lang="ts">
/** Rules as sentences. */
import { computed, ref } from "vue";
import { api, answer, type RuleDesign } from "@/api/client";
import { duplicate } from "@/app/duplicate";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import RuleDialog from "./RuleDialog.vue";
import { actSentence, ruleSentence } from "./sentence";
import { tellSentence } from "./tell";
import { useNames } from "@/stations/watch/names";
import { useQuery } from "@tanstack/vue-query";

const site = useSite();
const names = useNames(site);
const edited = ref<RuleDesign>();
const rules = computed(() => site.design.value?.rules ?? []);
const hasReadings = computed(() => (site.design.value?.nodes ?? []).some((n) => n.readings.length));

const tallies = useQuery({
  queryKey: ["tallies", site.key, computed(() => site.site.value?.revision)],
  enabled: computed(() =>
    rules.value.some((r) => r.condition.kind === "inSequence" || r.also?.some((a) => a.condition.kind === "inSequence")),
  ),
  refetchInterval: 60_000,
  queryFn: () => answer(api.GET("/api/sites/{site}/rules/tallies", { params: { path: { site: site.key.value } } })),
});
/** How often it saw what: of the day, with the rates. */
function tallySentence(r: RuleDesign) {
  const t = tallies.data.value?.find((x) => x.rule === r.key);
  if (!t) return "";
  return `Last 24 h: ${t.day.both} together, ${t.day.firstAlone} the first alone, ${t.day.secondAlone} the second alone. Raised ${t.dayPerHour.toFixed(1)} times an hour; over the week ${t.weekPerDay.toFixed(1)} times a day.`;
}

/** What is worst against a rule: it is not well only because it is armed. */
const worst = (r: RuleDesign) => site.findings("alerts").find((f) => f.subject.item === r.key && f.severity !== "note");

async function arm(r: RuleDesign) {
  await site.apply(`${r.label} ${r.armed ? "is off" : "is armed"}`, [{ kind: "putRule", rule: { ...r, armed: !r.armed } }]);
}

/** The new one is opened: it is off until it watches something else. */
async function another(r: RuleDesign) {
  const key = await duplicate(site, "rule", r.key);
  edited.value = rules.value.find((x) => x.key === key);
}
async function remove(r: RuleDesign) {
  await site.apply(`${r.label} removed; its episodes stay, and the Log can bring it back`, [{ kind: "removeRule", key: r.key }]);
}
</script>

<template>
  <EmptyState
    v-if="!rules.length"
    title="No rules yet"
    :text="
      hasReadings
        ? 'A rule is a sentence: when a reading is above a limit for so long, tell me.'
        : 'A rule watches a reading; plan a node with readings first.'
    "
  >
  </EmptyState>
  <ul v-else class="divide-y divide-rule border-y border-rule">
    <li v-for="r in rules" :key="r.key" class="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 py-2">
      <div class="min-w-0 flex-1 basis-72">
        <h3 class="font-semibold">
          {{ r.label }}
          <span class="ml-1 text-sm font-normal" :class="r.armed && !worst(r) ? 'text-moss' : 'text-faint'">{{
            r.armed ? "armed" : "off"
          }}</span>
        </h3>
        <p v-if="worst(r)" class="text-sm" data-worst><SeverityMark :severity="worst(r)!.severity" /> {{ worst(r)!.why }}</p>
        <p>{{ ruleSentence(r, names) }}</p>
        <p class="text-sm text-faint">
          {{ tellSentence(r.tell, site.design.value?.people ?? []) }}
          <span v-for="a in r.acts ?? []" :key="`${a.node}/${a.output}`">{{ actSentence(a, site) }} </span>
        </p>
        <p v-if="tallySentence(r)" class="text-sm" data-tally>{{ tallySentence(r) }}</p>
        <p v-if="r.note" class="text-sm text-faint">What to do: {{ r.note }}</p>
      </div>
      <div v-if="site.canWrite.value" class="flex gap-1">
        <AppButton small :aria-label="`${r.armed ? 'Switch off' : 'Arm'} ${r.label}`" @click="arm(r)">{{
          r.armed ? "Switch off" : "Arm"
        }}</AppButton>
        <AppButton small :aria-label="`Edit ${r.label}`" @click="edited = r">Edit</AppButton>
        <AppButton small :aria-label="`Duplicate ${r.label}`" @click="another(r)">Duplicate</AppButton>
        <AppButton small :aria-label="`Remove ${r.label}`" @click="remove(r)">Remove</AppButton>
      </div>
    </li>
  </ul>
  <RuleDialog v-if="edited" :rule="edited" @close="edited = undefined" />
</template>
