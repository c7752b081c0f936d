<script setup lang="ts">
/** On every page while the clock of the machine is behind what it was: why what arrives is not judged, until when, and the way out. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence } from "@/api/client";
import AppButton from "@/kit/AppButton.vue";
import { duration, moment } from "@/kit/format";
import SeverityMark from "@/kit/SeverityMark.vue";
import { useSite } from "./site";

const site = useSite();
const queries = useQueryClient();
const fault = ref("");
const query = useQuery({
  queryKey: ["clock", site.key],
  refetchInterval: 30_000,
  queryFn: () => answer(api.GET("/api/sites/{site}/relay", { params: { path: { site: site.key.value } } })),
});
const behind = computed(() => query.data.value?.clockBehindMs ?? null);
const until = computed(() => {
  const shown = site.site.value;
  const at = query.data.value?.lateUntilMs;
  return shown && at ? moment(at, shown.design.settings.timeZone) : "";
});
async function judge() {
  const { response, error } = await api.POST("/api/sites/{site}/judge-anyway", { params: { path: { site: site.key.value } } });
  fault.value = response.ok ? "" : sentence(error);
  await queries.invalidateQueries({ queryKey: ["clock"] });
}
</script>

<template>
  <div v-if="behind" role="alert" class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 border border-clay px-3 py-2">
    <p class="min-w-0 flex-1 basis-64">
      <SeverityMark severity="risk" word /> This machine's clock was set back by {{ duration(behind) }}. What arrives is stored,
      but until {{ until }} it counts as late and no rule judges it.
    </p>
    <AppButton v-if="site.site.value?.role !== 'viewer'" small @click="judge">Judge from now on</AppButton>
    <p v-if="fault" class="w-full text-sm text-stop">{{ fault }}</p>
  </div>
</template>
