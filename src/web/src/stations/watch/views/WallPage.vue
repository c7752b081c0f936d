<script setup lang="ts">
/** A view over the whole screen, one after the other, dim at night. */
import { useFullscreen, useIntervalFn, useStorage } from "@vueuse/core";
import { computed, onScopeDispose, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { nightOnWall } from "@/app/palette";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import OpenStrip from "@/stations/alerts/OpenStrip.vue";
import SelectBox from "@/kit/SelectBox.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { useZones } from "@/kit/zones";
import { useSiteTime } from "@/live/clock";
import { connected } from "@/live/live";
import { moment } from "@/kit/format";
import ViewPage from "./ViewPage.vue";

const site = useSite();
const route = useRoute();
const router = useRouter();
const now = useSiteTime(site);
const { zones } = useZones(site);
const root = ref<HTMLElement>();
const { isFullscreen, toggle } = useFullscreen(root);
const turn = useStorage("cenotic-wall-turn", 30);
const dim = useStorage("cenotic-wall-dim", true);
const turns = [
  { value: 0, label: "stays" },
  { value: 15, label: "15 s each" },
  { value: 30, label: "30 s each" },
  { value: 60, label: "1 min each" },
];
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const views = computed(() => (site.design.value?.views ?? []).filter((v) => v.inRotation || v.key === at.value));
const at = computed(() => String(route.params.node ?? "first"));
const alarm = computed(() => zones.value.find((z) => z.phase === "alarm" || z.phase === "entering"));
const hour = computed(() => Number(moment(now.value, zone.value).slice(0, 2)));
const dark = computed(() => dim.value && !alarm.value && (hour.value >= 22 || hour.value < 7));
watch(dark, (now) => (nightOnWall.value = now), { immediate: true });
onScopeDispose(() => (nightOnWall.value = false));
let shown = 0;
useIntervalFn(() => {
  if (!turn.value || views.value.length < 2 || ++shown < turn.value) return;
  shown = 0;
  const next = (views.value.findIndex((v) => v.key === at.value) + 1) % views.value.length;
  void router.replace({ path: `/${site.key.value}/wall/${views.value[next]!.key}`, query: route.query });
}, 1000);
</script>

<template>
  <main
    ref="root"
    class="flex min-h-screen flex-col bg-paper p-4 text-[1.15rem] transition-[filter] duration-1000"
    :style="dark ? { filter: 'brightness(0.7)' } : {}"
    data-wall
  >
    <header class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      <h1 class="text-2xl font-semibold">{{ views.find((v) => v.key === at)?.label ?? "First view" }}</h1>
      <span class="mono text-2xl">{{ moment(now, zone).slice(0, 5) }}</span>
      <span v-if="alarm" class="font-semibold" role="alert"
        ><SeverityMark severity="stop" /> {{ alarm.label }}: {{ alarm.cause }}</span
      >
      <span v-if="!connected" role="status"><SeverityMark severity="risk" /> not connected: figures stand still</span>
      <span class="ml-auto flex flex-wrap items-center gap-2 text-base">
        <SelectBox v-model="turn" :options="turns" label="Turns" />
        <AppButton :aria-pressed="dim" @click="dim = !dim">{{ dim ? "Dim at night" : "Bright at night" }}</AppButton>
        <AppButton @click="toggle">{{ isFullscreen ? "Leave full screen" : "Full screen" }}</AppButton>
        <RouterLink :to="`/${site.key.value}/watch/${at}`" class="text-act underline">Back</RouterLink>
      </span>
    </header>
    <OpenStrip wall />
    <ViewPage :view="at" wall />
  </main>
</template>
