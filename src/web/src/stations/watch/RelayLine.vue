<script setup lang="ts">
/** How the relay fares: what arrives, what waits, how long a commit takes, what was refused. */
import { useQuery } from "@tanstack/vue-query";
import { api, sentence } from "@/api/client";
import { useSite } from "@/app/site";
import SeverityMark from "@/kit/SeverityMark.vue";
import { amount, number } from "@/kit/format";

const site = useSite();
const query = useQuery({
  queryKey: ["relay", site.key],
  refetchInterval: 5000,
  queryFn: async () => {
    const { data, error } = await api.GET("/api/sites/{site}/relay", { params: { path: { site: site.key.value } } });
    if (!data) throw new Error(sentence(error));
    return data;
  },
});
</script>

<template>
  <p v-if="query.data.value" class="flex flex-wrap gap-x-5 gap-y-1 border-t border-rule pt-2 text-sm text-faint">
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
  </p>
</template>
