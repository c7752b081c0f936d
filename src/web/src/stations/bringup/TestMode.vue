<script setup lang="ts">
/** Test mode of a node: a message a second, and the lamp of its board lit. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { useFirstReadings } from "./first-readings";

const props = defineProps<{ node: NodeDesign; what: string }>();
const site = useSite();
const queries = useQueryClient();
const query = useFirstReadings(computed(() => props.node.key));
const test = computed(() => query.data.value?.test);
const left = computed(() => {
  const until = test.value?.untilMs;
  return until ? Math.max(0, Math.round((until - query.data.value!.nowMs) / 1000)) : 0;
});
const fault = ref("");
async function set(on: boolean) {
  const { error, response } = await api.POST("/api/sites/{site}/nodes/{node}/test-mode", {
    params: { path: { site: site.key.value, node: props.node.key } },
    body: { on },
  });
  fault.value = response.ok ? "" : sentence(error);
  await queries.invalidateQueries({ queryKey: ["first-readings"] });
}
</script>

<template>
  <div v-if="test" class="flex flex-wrap items-center gap-3 border-b border-rule py-2" data-test-mode>
    <span v-if="test.untilMs" role="status"
      ><strong>Test mode</strong>, {{ left }} s left{{ test.taken === null ? "; the node has not answered yet" : "" }}</span
    >
    <span v-else>{{ what }}: a message every second, and its lamp lit.</span>
    <template v-if="site.canWrite.value">
      <AppButton v-if="test.untilMs" class="min-h-11" @click="set(false)">End test mode</AppButton>
      <AppButton v-else class="min-h-11" :disabled="test.why !== null" @click="set(true)">Test mode</AppButton>
    </template>
    <span v-if="!test.untilMs && test.why" class="text-sm text-faint">{{ test.why }}</span>
    <span v-if="fault" class="text-stop" role="alert">{{ fault }}</span>
  </div>
</template>
