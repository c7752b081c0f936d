<script setup lang="ts">
/** How the relay fares: what arrives, what waits, how long a commit takes, what was refused. */
import { useQuery } from "@tanstack/vue-query";
import { api, answer, sentence, type StoreReport } from "@/api/client";
import { ref } from "vue";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { amount, number } from "@/kit/format";

const site = useSite();
const query = useQuery({
  queryKey: ["relay", site.key],
  refetchInterval: 5000,
  queryFn: () => answer(api.GET("/api/sites/{site}/relay", { params: { path: { site: site.key.value } } })),
});
const checking = ref(false);
const report = ref<StoreReport>();
const fault = ref("");

async function check() {
  checking.value = true;
  fault.value = "";
  report.value = undefined;
  const { data, error } = await api.POST("/api/sites/{site}/store/check", { params: { path: { site: site.key.value } } });
  report.value = data;
  fault.value = data ? "" : sentence(error);
  checking.value = false;
}
</script>

<template>
  <div v-if="query.data.value" class="flex flex-wrap items-baseline gap-x-5 gap-y-1 border-t border-rule pt-2 text-sm text-faint">
    <span v-if="query.data.value.failing" class="text-stop"
      ><SeverityMark severity="stop" word /> Nothing is stored: {{ query.data.value.failing }}. Nodes get no acknowledgement and
      send again.</span
    >
    <span v-else><SeverityMark severity="fine" /> The relay stores what arrives</span>
    <span
      ><span class="mono">{{ number(query.data.value.messagesPerSecond) }}</span> messages a second</span
    >
    <span
      ><span class="mono">{{ query.data.value.queue }}</span> waiting</span
    >
    <span
      >a commit takes <span class="mono">{{ amount(query.data.value.lastCommitMs, "ms").join(" ") }}</span></span
    >
    <span
      >since its start <span class="mono">{{ query.data.value.messages }}</span> messages,
      <span class="mono">{{ query.data.value.repeats }}</span> repeats dropped,
      <span class="mono">{{ query.data.value.refusals }}</span> refused</span
    >
    <span v-if="query.data.value.upstream" :class="query.data.value.upstream.connected ? '' : 'text-stop'"
      ><SeverityMark :severity="query.data.value.upstream.connected ? 'fine' : 'risk'" /> the broker
      <span class="mono">{{ query.data.value.upstream.address }}</span>
      {{
        query.data.value.upstream.connected
          ? `brought ${query.data.value.upstream.messages} messages; whose they are is trusted to it`
          : `is not reached: ${query.data.value.upstream.fault} It is tried again.`
      }}<template v-if="query.data.value.upstream.unknown"
        >; <span class="mono">{{ query.data.value.upstream.unknown }}</span> of nodes that there are not</template
      ></span
    >
    <AppButton v-if="site.canWrite.value" kind="bare" small :disabled="checking" @click="check">{{
      checking ? "Looking through the store…" : "Look through the store"
    }}</AppButton>
    <span v-if="fault" class="text-stop" role="alert">{{ fault }}</span>
    <span v-if="report" role="status" class="text-ink">
      <SeverityMark :severity="report.faults.length ? 'stop' : 'fine'" />
      {{ report.faults.length ? report.faults.join(" ") : "The store is sound" }}:
      <span class="mono">{{ report.samples.toLocaleString("en") }}</span> samples in
      <span class="mono">{{ number(report.bytes / 1e6) }} MB</span>, looked through in
      <span class="mono">{{ number(report.seconds) }} s</span>
    </span>
  </div>
</template>
