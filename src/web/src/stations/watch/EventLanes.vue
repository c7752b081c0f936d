<script setup lang="ts">
/** Motion, presence and contacts as lanes on one time axis. */
import { useQueries } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type ReadingView } from "@/api/client";
import { useSite } from "@/app/site";
import LaneStrip from "@/kit/LaneStrip.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, moment } from "@/kit/format";
import { useSiteTime } from "@/live/clock";
import OpenMark from "./OpenMark.vue";
import { happenedText, isStale, valueText } from "./readings";

const props = defineProps<{ readings: ReadingView[]; hours: number }>();
const site = useSite();
const now = useSiteTime(site);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const from = computed(() => now.value - props.hours * 3_600_000);
const lanes = useQueries({
  queries: computed(() =>
    props.readings.map((r) => ({
      gcTime: 15_000,
      queryKey: ["lane", site.key.value, r.node, r.key, props.hours, r.newest?.t],
      placeholderData: (old: { stretches: { from: number; to: number; open: boolean }[] } | undefined) => old,
      queryFn: async () => {
        const to = Math.round(now.value) + 60_000;
        return answer(
          api.GET("/api/sites/{site}/readings/{node}/{key}/lane", {
            params: {
              path: { site: site.key.value, node: r.node, key: r.key },
              query: { from: to - props.hours * 3_600_000, to },
            },
          }),
        );
      },
    })),
  ),
});
const bars = (at: number) =>
  (lanes.value[at]?.data?.stretches ?? []).map((s) => {
    const to = s.open ? now.value : s.to;
    const title = `${moment(s.from, zone.value)} for ${duration(to - s.from)}`;
    return { from: s.from, to, fill: s.open ? "var(--clay)" : "var(--act)", title };
  });
const hoursMarks = computed(() => Array.from({ length: 5 }, (_, i) => from.value + (i * props.hours * 3_600_000) / 4));
const total = (at: number) =>
  (lanes.value[at]?.data?.stretches ?? []).reduce((sum, s) => sum + Math.min(s.to, now.value) - Math.max(s.from, from.value), 0);
</script>

<template>
  <section aria-label="Event lanes">
    <h2 class="mb-1 border-b border-rule pb-1 text-lg font-semibold">Events</h2>
    <div
      v-for="(r, at) in readings"
      :key="r.node + r.key"
      class="grid grid-cols-[minmax(0,1fr)] items-center gap-x-3 border-b border-rule py-1 md:grid-cols-[11rem_minmax(0,1fr)]"
      :data-reading="`${r.node}/${r.key}`"
    >
      <div class="flex items-baseline justify-between gap-2 md:block">
        <span class="block truncate"
          >{{ r.label }} <span class="text-sm text-faint">{{ r.nodeLabel }}</span></span
        >
        <span class="text-sm"
          ><SeverityMark v-if="isStale(r, r.newest, now)" severity="risk" />
          <strong data-value>{{ r.newest ? valueText(r, r.newest.value) : "never heard" }}</strong>{{
            happenedText(r, total(at))
          }}</span
        >
        <OpenMark :readings="[r]" :now="now" />
      </div>
      <LaneStrip
        :bars="bars(at)"
        :from="from"
        :to="now"
        :label="`${r.label}: ${lanes[at]?.data?.stretches.length ?? 0} stretches in ${hours} hours`"
      >
        <template #default="{ x }">
          <path v-for="t in hoursMarks" :key="t" :d="`M${x(t)} 0V22`" stroke="var(--rule)" vector-effect="non-scaling-stroke" />
        </template>
      </LaneStrip>
    </div>
    <div class="mono hidden justify-between pl-[11.8rem] text-sm text-faint md:flex" aria-hidden="true">
      <span v-for="t in hoursMarks" :key="t">{{ moment(t, zone).slice(0, 5) }}</span>
    </div>
  </section>
</template>
