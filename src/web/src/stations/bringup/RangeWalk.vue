<script setup lang="ts">
/** A node is carried from spot to spot while it sends every second: how it is heard, live and by spot on the plan. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { api, answer, sentence, type NodeDesign, type WalkedSpot } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import ChoiceStrip from "@/kit/ChoiceStrip.vue";
import FigureView from "@/kit/FigureView.vue";
import { moment } from "@/kit/format";
import PlanSpots from "@/kit/PlanSpots.vue";
import { floorChoices, onFloor } from "@/kit/plan";
import TestMode from "./TestMode.vue";

const props = defineProps<{ node: NodeDesign; zone: string }>();
const site = useSite();
const queries = useQueryClient();
const path = computed(() => ({ site: site.key.value, node: props.node.key }));
const spot = ref<string>();
const since = ref<number>();
const fault = ref("");
const query = useQuery({
  queryKey: ["walk", site.key, computed(() => props.node.key), since],
  placeholderData: (old) => old,
  refetchInterval: () => (since.value ? 1000 : 10_000),
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/walk", {
        params: { path: path.value, query: { since: since.value } },
      }),
    ),
});
watch(
  () => props.node.key,
  () => ((since.value = undefined), (spot.value = undefined)),
);
const place = computed(() => site.design.value?.place);
const floor = ref("");
const floors = computed(() => (place.value ? floorChoices(place.value) : []));
const now = computed(() => (since.value ? query.data.value?.now : undefined));
const walked = computed(() => query.data.value?.spots ?? []);
const marks = computed(() =>
  Object.fromEntries(
    walked.value.map((w) => [
      w.spot,
      { text: `${percent(w)}${w.rssiMedian === null ? "" : ` ${dbm(w.rssiMedian)}`}`, bad: w.isPoor },
    ]),
  ),
);
const percent = (w: WalkedSpot) => `${Math.round(w.heardPercent)} %`;
const label = computed(() => place.value?.spots.find((s) => s.key === spot.value)?.label);
const dbm = (v: number | null) => (v === null ? "no signal told" : `${Math.round(v)} dBm`);
/** The signals as a line from -130 to -30 dBm. */
const line = computed(() => {
  const s = query.data.value?.signals ?? [];
  return s
    .map((v, i) => `${(i / Math.max(1, s.length - 1)) * 300},${Math.min(60, Math.max(0, ((-30 - v) / 100) * 60))}`)
    .join(" ");
});
const begin = () => ((since.value = query.data.value?.nowMs), (fault.value = ""));

async function keep() {
  const { error, response } = await api.POST("/api/sites/{site}/nodes/{node}/walk", {
    params: { path: path.value },
    body: { spot: spot.value ?? "", fromMs: since.value ?? 0 },
  });
  fault.value = response.ok ? "" : sentence(error);
  if (!response.ok) return;
  since.value = undefined;
  await queries.invalidateQueries({ queryKey: ["walk"] });
}
</script>

<template>
  <div class="max-w-3xl" data-walk>
    <TestMode :node="node" what="While you carry it" />
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <section v-if="now" class="my-3 border border-rule bg-sheet p-4" aria-live="off">
      <h2 class="text-lg font-semibold">At {{ label }}</h2>
      <dl class="my-2 flex flex-wrap gap-x-10 gap-y-2">
        <div>
          <dt class="caps">Heard</dt>
          <dd><FigureView :figure="now.heard" big band /></dd>
        </div>
        <div>
          <dt class="caps">Messages</dt>
          <dd class="mono text-3xl font-semibold">{{ now.count }}</dd>
          <dd class="text-sm text-faint">{{ now.lost === null ? "it numbers none" : `${now.lost} lost` }}</dd>
        </div>
        <div>
          <dt class="caps">Signal</dt>
          <dd class="mono text-3xl font-semibold">{{ now.rssiMedian === null ? "–" : dbm(now.rssiMedian) }}</dd>
          <dd v-if="now.rssiLow !== null" class="text-sm text-faint">weakest {{ dbm(now.rssiLow) }}</dd>
        </div>
      </dl>
      <svg
        v-if="line"
        viewBox="0 0 300 60"
        class="mb-2 h-16 w-full border-y border-rule"
        role="img"
        aria-label="Signal, -30 to -130 dBm"
      >
        <polyline :points="line" fill="none" class="stroke-act" stroke-width="2" />
      </svg>
      <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
      <div class="flex gap-3">
        <AppButton kind="lead" class="min-h-12 flex-1 justify-center" @click="keep">Keep it, walk on</AppButton>
        <AppButton class="min-h-12" @click="since = undefined">Leave it</AppButton>
      </div>
    </section>
    <template v-else>
      <p class="my-2">{{ spot ? `You stand at ${label}.` : "Tap where you stand with the node." }}</p>
      <AppButton v-if="site.canWrite.value" kind="lead" class="mb-3 min-h-12" :disabled="!spot" @click="begin"
        >Listen here</AppButton
      >
    </template>
    <ChoiceStrip v-if="floors.length" v-model="floor" label="Floor" :options="floors" class="mb-2 w-fit" />
    <PlanSpots
      v-if="place?.spots.length"
      v-model:selected="spot"
      :place="onFloor(place, floor || null)"
      :nodes="[]"
      :movable="false"
      :marks="marks"
      class="max-h-96"
    />
    <p v-else>The plan has no spots yet: put some at Place.</p>
    <ul v-if="walked.length" class="mt-3 divide-y divide-rule border-y border-rule">
      <li v-for="w in walked" :key="w.spot" class="flex min-h-11 flex-wrap items-center gap-x-3">
        <span class="min-w-0 basis-full font-semibold sm:flex-1 sm:basis-auto">{{ w.label }}</span>
        <span class="mono">{{ percent(w) }}</span>
        <span class="text-sm text-faint">of {{ w.sent }}</span>
        <span class="mono">{{ dbm(w.rssiMedian) }}</span>
        <span class="text-sm text-faint">{{ moment(w.atMs, zone, true) }}</span>
      </li>
    </ul>
  </div>
</template>
