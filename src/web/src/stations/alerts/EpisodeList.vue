<script setup lang="ts">
/** Episodes, open ones first; who was told, and who took them up. */
import { computed, ref } from "vue";
import type { EpisodeView, ToldView } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { duration, moment } from "@/kit/format";
import AcknowledgeDialog from "./AcknowledgeDialog.vue";
import EpisodeTimeline from "./EpisodeTimeline.vue";
import { useEpisodes } from "./episodes";

const site = useSite();
const { query, episodes, note, seen, stretchOf, now } = useEpisodes(site);
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const rows = computed(() => episodes.value.slice(0, 30));
const armed = computed(() => site.design.value?.rules.some((r) => r.armed) || !!site.design.value?.zones?.length);
const taken = ref<EpisodeView>();
const told = (t: ToldView) =>
  `${t.person} by ${t.way} (${t.step.replace("-", " ")}): ${t.taken ? "taken" : t.done ? "given up" : "on its way"}${t.maybeTwice ? ", may have been sent twice" : ""}`;
const bad = (t: ToldView) => t.done && !t.taken;
</script>

<template>
  <section aria-label="Episodes">
    <p v-if="query.isPending.value" class="text-faint">Loading…</p>
    <p v-else-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="!rows.length" class="py-1">
      <template v-if="armed">No rule has raised yet.</template>
      <template v-else>Nothing is watched yet: no rule is armed, and there is no zone.</template>
    </p>
    <EpisodeTimeline :episodes="query.data.value ?? []" :now="now" :zone="zone" />
    <ul class="divide-y divide-rule">
      <li
        v-for="e in rows"
        :key="e.id"
        class="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-l-4 py-2 pl-2"
        :class="e.clearedMs !== null ? 'border-l-transparent' : e.acknowledgedMs === null ? 'border-l-stop' : 'border-l-risk'"
        :data-episode="e.rule"
      >
        <div class="min-w-0 flex-1 basis-64">
          <p>
            <SeverityMark :severity="e.clearedMs !== null ? 'fine' : e.acknowledgedMs === null ? 'stop' : 'risk'" />
            <strong class="ml-1">{{ e.label }}</strong> {{ seen(e) }}
            <span v-if="e.late" class="text-sm text-risk">late: the server was off</span>
            <span v-if="e.damped" class="text-sm text-faint">raised again and again: told only when it lasts</span>
          </p>
          <p class="text-sm text-faint">
            raised {{ moment(e.raisedMs, zone, true) }},
            {{
              e.clearedMs === null
                ? `open for ${duration(Math.max(0, now - e.raisedMs))}`
                : `over after ${duration(e.lastedMs!)}`
            }}<template v-if="e.acknowledgedMs !== null"
              >, acknowledged by {{ e.acknowledgedBy }} after {{ duration(e.takenUpAfterMs!) }}</template
            >
          </p>
          <p v-if="e.acknowledgedNote" class="text-sm">{{ e.acknowledgedBy }}: {{ e.acknowledgedNote }}</p>
          <details v-if="e.told.length" class="text-sm text-faint">
            <summary class="min-h-8 cursor-pointer">
              <SeverityMark v-if="e.told.some(bad)" severity="stop" />
              told {{ [...new Set(e.told.map((t) => t.person))].join(", ") }}, {{ e.told.length }}
              {{ e.told.length === 1 ? "notice" : "notices" }}
            </summary>
            <ul>
              <li v-for="(t, i) in e.told" :key="i">
                <span class="mono">{{ moment(t.atMs, zone, true) }}</span> {{ told(t) }}
              </li>
            </ul>
          </details>
          <p v-if="e.clearedMs === null && note(e)" class="text-sm">What to do: {{ note(e) }}</p>
        </div>
        <RouterLink
          :to="stretchOf(e)"
          class="inline-flex min-h-11 items-center px-2 text-act hover:underline"
          :aria-label="`Show ${e.label}`"
          >Show</RouterLink
        >
        <AppButton
          v-if="e.acknowledgedMs === null && site.canAct.value"
          :kind="e.clearedMs === null ? 'lead' : 'plain'"
          class="min-h-11"
          :aria-label="`Acknowledge ${e.label}`"
          @click="taken = e"
          >Acknowledge</AppButton
        >
      </li>
    </ul>
    <AcknowledgeDialog v-if="taken" :episode="taken" @close="taken = undefined" />
  </section>
</template>
