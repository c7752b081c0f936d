<script setup lang="ts">
/** "Press it now": a state is proven by doing it. Asked again every second until it is, or until the time is up. */
import { useQueryClient } from "@tanstack/vue-query";
import { useIntervalFn } from "@vueuse/core";
import { ref } from "vue";
import { api, sentence, type NodeDesign, type ProofVerdict } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FindingCard from "@/kit/FindingCard.vue";

const props = defineProps<{ node: NodeDesign; reading: string; label: string }>();
const site = useSite();
const queries = useQueryClient();
const since = ref<number>();
const verdict = ref<ProofVerdict>();
const fault = ref("");
const timer = useIntervalFn(() => void ask(), 1000, { immediate: false });

async function ask() {
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/readings/{reading}/proof", {
    params: { path: { site: site.key.value, node: props.node.key, reading: props.reading }, query: { since: since.value } },
  });
  fault.value = data ? "" : sentence(error);
  if (!data) return timer.pause();
  verdict.value = data.verdict;
  since.value = data.sinceMs;
  if (!data.verdict.proven && !data.verdict.finding) return;
  timer.pause();
  await queries.invalidateQueries({ queryKey: ["first-readings"] });
}
async function begin() {
  since.value = undefined;
  verdict.value = undefined;
  await ask();
  if (!fault.value) timer.resume();
}
function leave() {
  timer.pause();
  verdict.value = undefined;
}
const word = (v: number | null) => (v === null ? "nothing yet" : v ? "on" : "off");
</script>

<template>
  <div class="mb-2 flex flex-wrap items-center gap-3">
    <template v-if="timer.isActive.value && verdict">
      <span class="text-lg font-semibold" role="status">{{ verdict.do }}</span>
      <span class="text-faint"
        >it shows <span class="mono">{{ word(verdict.now) }}</span></span
      >
      <AppButton small @click="leave">Leave it</AppButton>
    </template>
    <AppButton v-else class="min-h-11" :aria-label="`Prove it by doing it: ${label}`" @click="begin"
      >Prove it by doing it</AppButton
    >
    <FindingCard v-if="verdict?.finding" :finding="verdict.finding" class="w-full" />
    <span v-if="fault" class="text-stop" role="alert">{{ fault }}</span>
  </div>
</template>
