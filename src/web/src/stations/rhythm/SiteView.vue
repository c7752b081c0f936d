<script setup lang="ts">
/** All nodes together: how late each notice can be, when cells are due, what is sent, and the channels. */
import { computed } from "vue";
import { useSite } from "@/app/site";
import FigureView from "@/kit/FigureView.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { useSiteTime } from "@/live/clock";
import { setNode } from "../bench/node-edits";
import ChannelView from "./ChannelView.vue";

const site = useSite();
const rhythm = computed(() => site.plan.value?.rhythm);
const now = useSiteTime(site);
const today = computed(() => new Date(now.value).toISOString().slice(0, 10));
const files = [
  { kind: "timetable.csv", label: "Timetable, CSV" },
  { kind: "batteries.ics", label: "Battery dates, iCalendar" },
];
const label = (node: string) => site.node(node)?.label ?? node;
const day = (date: string | null) =>
  date === null
    ? ""
    : new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "UTC" }).format(
        new Date(`${date}T00:00:00Z`),
      );

async function fitted(key: string, date: string) {
  const node = site.node(key);
  if (node)
    await site.apply(`Cells of ${node.label} put in`, [setNode(node, { power: { ...node.power, fittedOn: date || null } })]);
}
</script>

<template>
  <template v-if="rhythm">
    <div class="mb-5 flex flex-wrap items-start gap-x-10 gap-y-2">
      <dl class="flex flex-wrap gap-x-10 gap-y-2">
        <div v-for="f in rhythm.totals" :key="f.label">
          <dt class="caps">{{ f.label }}</dt>
          <dd><FigureView :figure="f" /></dd>
        </div>
      </dl>
      <div class="flex flex-wrap gap-2 sm:ml-auto">
        <a
          v-for="f in files"
          :key="f.kind"
          :href="`/api/sites/${site.key.value}/exports/${f.kind}`"
          :download="`${site.key.value}-${f.kind}`"
          class="inline-flex min-h-9 items-center rounded-sm border border-faint bg-sheet px-3 hover:border-act hover:text-act"
          >{{ f.label }}</a
        >
      </div>
    </div>
    <h2 class="mb-1 text-lg font-semibold">Cells due</h2>
    <p v-if="!rhythm.due.length" class="mb-5 text-faint">No node lives on cells.</p>
    <div v-else class="mb-5 overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Node</th>
            <th>Cells</th>
            <th>Put in on</th>
            <th class="text-right">Life</th>
            <th class="text-right">Earliest</th>
            <th class="text-right">Likely</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in rhythm.due" :key="d.node">
            <td>{{ d.label }}</td>
            <td>{{ d.cell }}</td>
            <td>
              <input
                type="date"
                class="field mono"
                :value="d.fittedOn ?? ''"
                :disabled="!site.canWrite.value"
                :aria-label="`Day the cells of ${d.label} were put in`"
                @change="fitted(d.node, ($event.target as HTMLInputElement).value)"
              />
            </td>
            <td class="text-right"><FigureView :figure="d.life" band /></td>
            <td class="mono text-right whitespace-nowrap">
              <SeverityMark v-if="d.early && d.early <= today" severity="risk" class="mr-1" />{{
                d.early ? day(d.early) : "no day noted"
              }}
            </td>
            <td class="mono text-right whitespace-nowrap">{{ day(d.likely) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <h2 class="mb-1 text-lg font-semibold">From the event to the notice</h2>
    <p v-if="!rhythm.rules.length" class="mb-5 text-faint">No rule watches a reading yet; rules are made at Alerts.</p>
    <div v-else class="mb-5 overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Rule</th>
            <th>Node</th>
            <th class="text-right">Usually</th>
            <th class="text-right">At most</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rhythm.rules" :key="r.rule">
            <td>{{ r.label }}</td>
            <td>{{ label(r.node) }}</td>
            <td class="text-right"><FigureView :figure="r.usualLateness" /></td>
            <td class="text-right"><FigureView :figure="r.lateness" /></td>
          </tr>
        </tbody>
      </table>
    </div>
    <ChannelView v-for="c in site.plan.value?.reach.channels" :key="c.key" :channel="c" />
  </template>
</template>
