<script setup lang="ts">
/** What is to be done again, what is due first first; as a calendar too. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type DueItem } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { moment } from "@/kit/format";

const props = defineProps<{ items: DueItem[]; nowMs: number; soonMs: number; zone: string; feed: boolean }>();
const site = useSite();
const queries = useQueryClient();
const path = computed(() => ({ site: site.key.value }));
const fault = ref("");
const address = ref("");
const all = ref(false);
const DAY = 86_400_000;
const day = (ms: number) => moment(ms, props.zone, true).split(",")[0];
const soon = (d: DueItem) => d.dueMs < props.soonMs;
const shown = computed(() => (all.value ? props.items : props.items.filter((d, at) => soon(d) || at < 6)));
const when = (d: DueItem) => {
  const days = Math.round((d.dueMs - props.nowMs) / DAY);
  return days < 0 ? `${-days} d overdue` : days === 0 ? "today" : `in ${days} d`;
};
async function done(d: DueItem) {
  const { error, response } = await api.POST("/api/sites/{site}/maintenance/done", {
    params: { path: path.value },
    body: { key: d.key },
  });
  fault.value = response.ok ? "" : sentence(error);
  await Promise.all([queries.invalidateQueries({ queryKey: ["maintenance"] }), queries.invalidateQueries({ queryKey: ["log"] })]);
}
async function open() {
  const { data, error } = await api.POST("/api/sites/{site}/maintenance/feed", { params: { path: path.value } });
  fault.value = data ? "" : sentence(error);
  address.value = data?.address ?? "";
  await queries.invalidateQueries({ queryKey: ["maintenance"] });
}
async function close() {
  await api.DELETE("/api/sites/{site}/maintenance/feed", { params: { path: path.value } });
  address.value = "";
  await queries.invalidateQueries({ queryKey: ["maintenance"] });
}
</script>

<template>
  <div data-due>
    <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
    <ul class="divide-y divide-rule border-y border-rule">
      <li v-for="d in shown" :key="d.key" class="flex min-h-11 flex-wrap items-center gap-x-3 py-1">
        <SeverityMark :severity="d.dueMs < nowMs ? 'risk' : 'note'" />
        <span class="min-w-0 flex-1 basis-64"
          ><strong>{{ d.nodeLabel }}</strong
          >: {{ d.what }}</span
        >
        <span class="mono w-24">{{ when(d) }}</span>
        <span class="w-24 text-sm text-faint">{{ day(d.dueMs) }}</span>
        <span class="w-16 text-right">
          <AppButton
            v-if="d.kind === 'cleaning' && site.canWrite.value"
            class="min-h-11"
            :aria-label="`Done: ${d.nodeLabel}, ${d.what}`"
            @click="done(d)"
            >Done</AppButton
          >
        </span>
      </li>
    </ul>
    <p v-if="!items.length" class="text-faint">Nothing of this site wants looking after.</p>
    <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
      <AppButton v-if="shown.length < items.length" small @click="all = true">All {{ items.length }}</AppButton>
      <a
        :href="`/api/sites/${site.key.value}/maintenance.ics`"
        download
        class="inline-flex min-h-9 items-center text-act underline"
        >As a calendar file</a
      >
      <template v-if="site.canWrite.value">
        <AppButton small @click="open">{{ feed ? "New calendar address" : "Calendar address" }}</AppButton>
        <AppButton v-if="feed" small @click="close">Close the address</AppButton>
      </template>
    </div>
    <p v-if="address" class="mt-2" role="status">
      Shown once; whoever has it reads this list: <span class="mono break-all">{{ address }}</span>
    </p>
  </div>
</template>
