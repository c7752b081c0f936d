<script setup lang="ts">
/** The readings of a node with the calibration in force, when it is due, and what was before. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type CalibratedReading, type CalibrationView, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { moment } from "@/kit/format";
import SideBySideDialog from "./SideBySideDialog.vue";
import CalibrationDialog from "./CalibrationDialog.vue";
import { kinds } from "./calibration";

const props = defineProps<{ node: NodeDesign; zone: string }>();
const site = useSite();
const queries = useQueryClient();
const path = computed(() => ({ site: site.key.value, node: props.node.key }));
const query = useQuery({
  queryKey: ["calibrations", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  placeholderData: (old) => old,
  refetchInterval: (q) => (q.state.data?.work?.running ? 300 : false),
  queryFn: () => answer(api.GET("/api/sites/{site}/nodes/{node}/calibrations", { params: { path: path.value } })),
});
const open = ref<CalibratedReading>();
const beside = ref<CalibratedReading>();
/** Readings of the same quantity elsewhere on the site. */
const others = (r: CalibratedReading) => {
  const quantity = props.node.readings.find((x) => x.key === r.reading)?.quantity;
  return (site.design.value?.nodes ?? []).flatMap((n) =>
    n.readings
      .filter((x) => x.quantity === quantity && (n.key !== props.node.key || x.key !== r.reading))
      .map((x) => ({ value: `${n.key}/${x.key}`, label: `${n.label}: ${x.label}` })),
  );
};
const fault = ref("");
const work = computed(() => query.data.value?.work);
const force = (r: CalibratedReading) => r.history.find((h) => h.inForce);
const day = (ms: number) => moment(ms, props.zone, true).split(",")[0];
const number = (r: CalibratedReading, value: number) => value.toFixed(Math.max(r.decimals + 1, 2));
const state = (h: CalibrationView) =>
  h.undoneMs !== null
    ? `taken back ${day(h.undoneMs)} by ${h.undoneBy}`
    : h.untilMs !== null
      ? `ended ${day(h.untilMs)}: another part was put in its place`
      : h.inForce
        ? "in force"
        : "followed by a later one";
const refresh = () => queries.invalidateQueries({ queryKey: ["calibrations"] });

async function undo(calibration: CalibrationView) {
  const { error, response } = await api.POST("/api/sites/{site}/nodes/{node}/calibrations/{id}/undo", {
    params: { path: { ...path.value, id: calibration.id } },
  });
  fault.value = response.ok ? "" : sentence(error);
  await refresh();
}
async function stop() {
  await api.POST("/api/sites/{site}/nodes/{node}/calibrations/stop", { params: { path: path.value } });
  await refresh();
}
</script>

<template>
  <section class="max-w-2xl" data-calibrations>
    <p v-if="query.data.value && !query.data.value.readings.length" class="text-faint">
      Nothing of this node is calibrated: it reads states only.
    </p>
    <p v-if="node.correctsItself" class="mb-2 border-l-2 border-act pl-3">
      This node's program applies them: after each, save its settings and flash it. Until then it sends as before.
    </p>
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <div v-if="work?.running" class="my-2 flex items-center gap-3" role="status">
      <span>Working through {{ work.samples }} values</span>
      <progress class="h-3 flex-1 accent-act" max="1" :value="work.share" />
      <AppButton small @click="stop">Stop</AppButton>
    </div>
    <p v-if="work?.fault || fault" class="text-stop" role="alert">{{ fault || work?.fault }}</p>
    <ul class="divide-y divide-rule border-y border-rule">
      <li v-for="r in query.data.value?.readings ?? []" :key="r.reading" class="py-1.5">
        <div class="flex min-h-11 flex-wrap items-center gap-x-3">
          <span class="min-w-0 flex-1 basis-40"
            >{{ r.label }}
            <span v-if="force(r)" class="block text-sm"
              ><span class="mono">{{ force(r)!.formula }}</span
              ><template v-if="force(r)!.calibration.uncertainty > 0"
                >, ±{{ number(r, force(r)!.calibration.uncertainty) }} {{ r.unit }}</template
              >, {{ day(force(r)!.atMs) }}
              <span v-if="force(r)!.due" class="font-semibold text-risk">due since {{ day(force(r)!.dueMs!) }}</span></span
            >
            <span v-else class="block text-sm text-faint">as it came from the factory</span></span
          >
          <template v-if="site.canWrite.value">
            <AppButton
              v-if="others(r).length"
              class="min-h-11"
              :disabled="work?.running"
              :aria-label="`Beside another: ${r.label}`"
              @click="beside = r"
              >Beside another</AppButton
            >
            <AppButton class="min-h-11" :disabled="work?.running" @click="open = r">Calibrate</AppButton>
          </template>
        </div>
        <details v-if="r.history.length">
          <summary class="min-h-9 cursor-pointer text-sm text-act">{{ r.history.length }} so far</summary>
          <ul class="flex flex-col gap-2 pb-1">
            <li v-for="h in r.history" :key="h.id" class="flex items-center gap-3 text-sm">
              <span class="flex-1"
                >{{ moment(h.atMs, zone, true) }}, {{ h.who }}: {{ kinds[h.calibration.kind].label
                }}<template v-if="h.against">, against {{ h.against }}</template
                >, <span class="mono">{{ h.formula }}</span>; {{ state(h) }}</span
              >
              <AppButton
                v-if="site.canWrite.value && h.undoneMs === null && h.untilMs === null"
                small
                :disabled="work?.running"
                @click="undo(h)"
                >Take back</AppButton
              >
            </li>
          </ul>
        </details>
      </li>
    </ul>
    <SideBySideDialog
      v-if="beside"
      :node="node.key"
      :reading="beside"
      :others="others(beside)"
      @close="beside = undefined"
      @begun="((beside = undefined), refresh())"
    />
    <CalibrationDialog
      v-if="open"
      :node="node.key"
      :reading="open"
      :on-node="node.correctsItself"
      @close="open = undefined"
      @begun="((open = undefined), refresh())"
    />
  </section>
</template>
