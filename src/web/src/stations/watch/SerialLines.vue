<script setup lang="ts">
/** The serial lines from radio bridges: what comes over each, and the way to set one up. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, type SerialLineDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { moment } from "@/kit/format";
import SerialLineDialog from "./SerialLineDialog.vue";

const site = useSite();
const lines = computed(() => site.design.value?.lines ?? []);
const query = useQuery({
  queryKey: ["lines", site.key],
  refetchInterval: 4000,
  enabled: computed(() => lines.value.length > 0),
  queryFn: () => answer(api.GET("/api/sites/{site}/lines", { params: { path: { site: site.key.value } } })),
});
const state = (key: string) => query.data.value?.find((s) => s.key === key);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const open = ref<{ line?: SerialLineDesign }>();
</script>

<template>
  <section v-if="lines.length || site.canWrite.value" class="mb-4">
    <h2 class="mb-1 flex flex-wrap items-baseline gap-3 border-b border-rule pb-1 text-lg font-semibold">
      Serial lines
      <AppButton v-if="site.canWrite.value" kind="bare" small @click="open = {}">New serial line</AppButton>
    </h2>
    <p v-if="!lines.length" class="text-faint">None. A radio bridge at a USB or network port of this machine is read over one.</p>
    <ul class="flex flex-col gap-2">
      <li v-for="l in lines" :key="l.key" class="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <strong>{{ l.label }}</strong>
        <span class="mono text-sm">{{ l.port }}</span>
        <span v-if="!l.open" class="text-faint">switched off</span>
        <span v-else-if="state(l.key)?.open"><SeverityMark severity="fine" /> open</span>
        <span v-else class="text-stop"
          ><SeverityMark severity="risk" /> {{ state(l.key)?.fault ?? "not opened yet" }} (tried again by itself)</span
        >
        <span v-if="state(l.key)" class="text-sm text-faint"
          ><span class="mono">{{ state(l.key)!.frames }}</span> frames,
          <span class="mono">{{ state(l.key)!.refused }}</span> refused,
          <span class="mono">{{ state(l.key)!.skipped }} B</span> of noise<template v-if="state(l.key)!.lastFrameMs"
            >, the last {{ moment(state(l.key)!.lastFrameMs!, zone, true) }}</template
          ></span
        >
        <AppButton v-if="site.canWrite.value" small @click="open = { line: l }">Set up {{ l.label }}</AppButton>
      </li>
    </ul>
    <SerialLineDialog v-if="open" :line="open.line" @close="open = undefined" />
  </section>
</template>
