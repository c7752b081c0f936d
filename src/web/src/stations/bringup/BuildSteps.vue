<script setup lang="ts">
/** The steps of building a node, one in view: what to do, what the meter should show, what it means when it does not. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref, useTemplateRef, watch } from "vue";
import { api, answer, sentence, type BuildStepView, type BuildTick, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import BuildStepCard from "./BuildStepCard.vue";

const props = defineProps<{ node: NodeDesign; zone: string }>();
const site = useSite();
const queries = useQueryClient();
const path = computed(() => ({ site: site.key.value, node: props.node.key }));
const queryKey = computed(() => ["build", site.key.value, props.node.key, site.site.value?.revision]);
const query = useQuery({
  queryKey,
  placeholderData: (old) => old,
  queryFn: () => answer(api.GET("/api/sites/{site}/nodes/{node}/build", { params: { path: path.value } })),
});
const steps = computed<BuildStepView[]>(() => query.data.value ?? []);
const done = computed(() => steps.value.filter((s) => s.done).length);
const first = computed(() => {
  const at = steps.value.findIndex((s) => !s.done);
  return at < 0 ? Math.max(0, steps.value.length - 1) : at;
});
/** The step in view; the first that is not done until another is chosen. */
const chosen = ref<number>();
const at = computed(() => Math.min(chosen.value ?? first.value, Math.max(0, steps.value.length - 1)));
const current = computed(() => steps.value[at.value]);
const fault = ref("");
const busy = ref(false);
watch(
  () => props.node.key,
  () => ((chosen.value = undefined), (fault.value = "")),
);

const card = useTemplateRef<HTMLElement>("card");
/** On a phone a step begins where the eye is. */
async function show(step: number) {
  chosen.value = step;
  await nextTick();
  card.value?.scrollIntoView({ block: "start" });
}

async function tick(change: Partial<BuildTick>) {
  // The list may come anew while this is under way, and then the first that is not done is another.
  const from = at.value;
  const step = current.value!;
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/build", {
    params: { path: path.value },
    body: { step: step.step.key, done: true, shows: null, value: null, anyway: false, ...change },
  });
  fault.value = data ? "" : sentence(error);
  if (data) {
    queries.setQueryData(queryKey.value, data);
    // What was measured well or ticked is done with: on to the next. Answers can be tapped once it stands where it will stay.
    const now = data.find((s) => s.step.key === step.step.key);
    await show(now?.done && change.done !== false ? Math.min(from + 1, data.length - 1) : from);
  }
  busy.value = false;
  if (data) await queries.invalidateQueries({ queryKey: ["site"] });
}
</script>

<template>
  <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
  <p v-else-if="query.data.value && !steps.length">
    There is nothing to build yet: the Bench plans its wires, and says what stands against it.
  </p>
  <div v-if="current" class="grid max-w-5xl gap-6 lg:grid-cols-[1fr_20rem]" data-build>
    <div ref="card" class="scroll-mt-14">
      <div class="mb-3 flex items-center gap-3">
        <div
          class="h-2 flex-1 bg-rule"
          role="progressbar"
          aria-label="Steps done"
          :aria-valuemax="steps.length"
          :aria-valuenow="done"
        >
          <div class="h-2 bg-moss" :style="{ width: `${(100 * done) / Math.max(1, steps.length)}%` }" />
        </div>
        <span class="mono text-sm">{{ done }} of {{ steps.length }} done</span>
      </div>
      <BuildStepCard
        :key="current.step.key"
        :view="current"
        :at="at + 1"
        :zone="zone"
        :can-write="site.canWrite.value"
        :busy="busy || site.busy.value"
        @tick="tick"
      />
      <p v-if="fault" class="mt-2 text-stop" role="alert">{{ fault }}</p>
      <div class="mt-4 flex gap-3">
        <AppButton class="min-h-12 flex-1" :disabled="at === 0" @click="show(at - 1)">Back</AppButton>
        <AppButton class="min-h-12 flex-1" :disabled="at === steps.length - 1" @click="show(at + 1)">{{
          current.done ? "Next" : "Skip"
        }}</AppButton>
      </div>
    </div>
    <details class="lg:block" open>
      <summary class="caps min-h-9 cursor-pointer">All steps</summary>
      <ol class="max-h-[60vh] divide-y divide-rule overflow-y-auto border-y border-rule">
        <li v-for="(s, i) in steps" :key="s.step.key">
          <button
            type="button"
            class="flex min-h-10 w-full items-center gap-2 px-1 text-left hover:text-act"
            :class="i === at ? 'font-semibold' : ''"
            :aria-current="i === at ? 'step' : undefined"
            @click="show(i)"
          >
            <span class="mono w-6 shrink-0 text-right text-sm text-faint">{{ i + 1 }}</span>
            <SeverityMark v-if="s.done" severity="fine" />
            <SeverityMark v-else-if="s.finding" :severity="s.finding.severity" />
            <span v-else class="w-4 shrink-0 text-center text-faint" aria-hidden="true">·</span>
            <span class="min-w-0 flex-1">{{ s.step.title }}</span>
          </button>
        </li>
      </ol>
    </details>
  </div>
</template>
