<script setup lang="ts">
/** Readings side by side: is the cheap probe as good, radar or infrared here? Figures, and for events the lanes. */
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { api, answer, type ReadingView } from "@/api/client";
import { useSite } from "@/app/site";
import AppDialog from "@/kit/AppDialog.vue";
import FigureView from "@/kit/FigureView.vue";
import FormField from "@/kit/FormField.vue";
import LaneStrip from "@/kit/LaneStrip.vue";
import SelectBox from "@/kit/SelectBox.vue";
import CheckBox from "@/kit/CheckBox.vue";
import { duration, figureText, moment } from "@/kit/format";
import CompareTable from "./CompareTable.vue";

const props = defineProps<{ readings: ReadingView[] }>();
defineEmits<{ close: [] }>();
const site = useSite();
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const isEvent = (r: ReadingView) => r.kind === "state" || r.kind === "event";
const name = (r: ReadingView) => ({ value: `${r.node}/${r.key}`, label: `${r.label} (${r.nodeLabel})` });
const a = ref(props.readings[0] ? name(props.readings[0]).value : "");
const trusted = computed(() => props.readings.find((r) => name(r).value === a.value));
/** What can stand beside it: another event, or the same unit. */
const others = computed(() =>
  props.readings
    .filter((r) => name(r).value !== a.value && trusted.value)
    .filter((r) => (isEvent(trusted.value!) ? isEvent(r) : !isEvent(r) && r.unit === trusted.value!.unit))
    .map(name),
);
const b = ref("");
watch(others, (now) => now.some((o) => o.value === b.value) || (b.value = now[0]?.value ?? ""), { immediate: true });
/** All that measure the same, a line each. */
const all = ref(false);
const hours = ref(24);
const stretches = [
  { value: 6, label: "the last six hours" },
  { value: 24, label: "the last day" },
  { value: 168, label: "the last week" },
  { value: 720, label: "the last 30 days" },
];
const query = useQuery({
  queryKey: ["compare", site.key, a, b, hours],
  enabled: computed(() => b.value !== "" && !all.value),
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/compare", {
        params: { path: { site: site.key.value }, query: { a: a.value, b: b.value, hours: hours.value } },
      }),
    ),
});
const view = computed(() => query.data.value);
const figures = computed(() => {
  const { lines, events } = view.value ?? {};
  if (lines) return [lines.bias, lines.agreement, lines.correlation, lines.drift, lines.lag];
  return events ? [events.agreement, events.kappa, events.detection, events.release, events.hold] : [];
});
const bars = (lane: { from: number; to: number }[], fill: string) =>
  lane.map((s) => ({ ...s, fill, title: `${moment(s.from, zone.value, true)} for ${duration(s.to - s.from)}` }));
</script>

<template>
  <AppDialog open title="Compare" :wide="all" @close="$emit('close')">
    <div class="flex flex-col gap-3">
      <FormField v-slot="{ id }" label="The trusted one"
        ><SelectBox :id="id" v-model="a" :options="readings.map(name)" label="The trusted one"
      /></FormField>
      <CheckBox v-if="others.length > 1" v-model="all" :label="`All ${others.length} that can stand beside it, in one table`" />
      <FormField v-if="others.length && !all" v-slot="{ id }" label="The other"
        ><SelectBox :id="id" v-model="b" :options="others" label="The other"
      /></FormField>
      <p v-else-if="!others.length">Nothing on this site measures the same.</p>
      <FormField v-slot="{ id }" label="Stretch"
        ><SelectBox :id="id" v-model="hours" :options="stretches" label="Stretch"
      /></FormField>
      <CompareTable v-if="all" :trusted="a" :others="others" :hours="hours" />
      <p v-else-if="query.isFetching.value" role="status">Comparing…</p>
      <p v-else-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
      <p v-else-if="view?.reasons.length">{{ view.reasons.join(" ") }}</p>
      <template v-else-if="view">
        <p v-if="view.events" role="status">
          Of {{ view.events.seen }} detections the other missed <strong>{{ view.events.missed }}</strong> and saw
          <strong>{{ view.events.extra }}</strong> that were none.
        </p>
        <template v-if="view.events">
          <LaneStrip
            v-for="(lane, at) in [view.a, view.b]"
            :key="at"
            :bars="bars(lane, at === 0 ? 'var(--act)' : 'var(--clay)')"
            :from="view.fromMs"
            :to="view.toMs"
            :label="`${at === 0 ? 'The trusted one' : 'The other'}: ${lane.length} stretches`"
          />
        </template>
        <dl class="grid grid-cols-[auto_1fr] items-baseline gap-x-6 gap-y-2" data-compare>
          <template v-for="f in figures" :key="f.label">
            <dt>{{ f.label }}</dt>
            <dd><FigureView :figure="f" band /></dd>
          </template>
        </dl>
        <p v-if="view.events && (view.events.hold.value ?? 0) > 0" class="text-sm text-faint">
          Held on for {{ figureText(view.events.hold) }} they agree {{ view.events.holdAgreement.toFixed(1) }} % of the time.
        </p>
        <p v-if="view.lines" class="text-sm text-faint">
          {{ view.lines.moments }} stretches; the difference is the trusted one less the other.
        </p>
      </template>
    </div>
  </AppDialog>
</template>
