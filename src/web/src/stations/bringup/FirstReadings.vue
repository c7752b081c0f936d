<script setup lang="ts">
/** The first readings of a node as they come: can they be true? States are proven by doing them. */
import { computed } from "vue";
import type { FirstVerdict, NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { moment } from "@/kit/format";
import LevelProof from "./LevelProof.vue";
import TestMode from "./TestMode.vue";
import { useFirstReadings } from "./first-readings";

const props = defineProps<{ node: NodeDesign; zone: string }>();
const site = useSite();
const query = useFirstReadings(computed(() => props.node.key));
const view = computed(() => query.data.value);
const provable = (v: FirstVerdict) => view.value?.provable.includes(v.reading) ?? false;
const proven = (v: FirstVerdict) => view.value?.proven[v.reading];
const warms = (v: FirstVerdict) => (v.warmUntilMs ? Math.max(0, Math.ceil((v.warmUntilMs - view.value!.nowMs) / 1000)) : 0);
const good = (v: FirstVerdict) =>
  v.count >= v.wanted && !v.findings.length && !v.warmUntilMs && (!provable(v) || proven(v) !== undefined);
const worst = (v: FirstVerdict) => v.findings[0]?.severity ?? (good(v) ? ("fine" as const) : ("note" as const));
const shown = (v: FirstVerdict) => {
  if (v.newest === null) return "";
  const decimals = props.node.readings.find((r) => r.key === v.reading)?.decimals ?? 1;
  return `${v.newest.toFixed(decimals)} ${v.unit}`.trim();
};
const said = (v: FirstVerdict) =>
  v.warmUntilMs
    ? `warms up, ${warms(v)} s`
    : v.findings.length
      ? "look at it"
      : provable(v)
        ? proven(v) === undefined
          ? "not proven yet"
          : `proven ${moment(proven(v)!, props.zone, true).split(",")[0]}`
        : good(v)
          ? "can be true"
          : `${v.count} of ${v.wanted} values so far`;
</script>

<template>
  <section class="max-w-2xl" data-first>
    <TestMode :node="node" what="Waiting for values is slow" />
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <p v-else-if="!node.readings.length" class="text-faint">This node reads nothing yet.</p>
    <ul class="divide-y divide-rule border-b border-rule">
      <li v-for="v in view?.verdicts ?? []" :key="v.reading" class="py-1.5" :data-reading="v.reading">
        <div class="flex min-h-9 items-center gap-3">
          <SeverityMark :severity="worst(v)" />
          <span class="min-w-0 flex-1">{{ v.label }}</span>
          <span class="mono">{{ shown(v) }}</span>
          <span class="w-36 shrink-0 text-sm text-faint">{{ said(v) }}</span>
        </div>
        <div v-if="v.findings.length" class="mt-1 mb-2 flex flex-col gap-2">
          <FindingCard v-for="f in v.findings" :key="f.code" :finding="f" />
        </div>
        <LevelProof v-if="provable(v) && site.canWrite.value" :node="node" :reading="v.reading" :label="v.label" />
      </li>
    </ul>
  </section>
</template>
