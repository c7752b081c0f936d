<script setup lang="ts">
/** A scan held against the plan: what is wrong first, then line by line. */
import { computed } from "vue";
import type { NodeDesign, ScanLine, ScanView } from "@/api/client";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { moment } from "@/kit/format";

const props = defineProps<{ scan: ScanView; zone: string; node: NodeDesign }>();
const fine = computed(() => !props.scan.report.findings.length);
const verdicts: Record<ScanLine["verdict"], { mark: "fine" | "stop" | "risk" | "note"; word: string }> = {
  found: { mark: "fine", word: "answered" },
  missing: { mark: "stop", word: "silent" },
  unexpected: { mark: "risk", word: "not planned" },
  notSeenFromHere: { mark: "note", word: "hidden from here" },
};
const word = (l: ScanLine) =>
  l.verdict === "notSeenFromHere" && l.bus?.startsWith("1-Wire")
    ? "no code yet"
    : l.verdict === "unexpected" && l.label === "a probe"
      ? "which one?"
      : verdicts[l.verdict].word;
</script>

<template>
  <section class="max-w-2xl" data-scan>
    <h3 class="mb-1 flex flex-wrap items-baseline gap-x-3 font-semibold">
      <span><SeverityMark :severity="fine ? 'fine' : 'stop'" /> {{ fine ? "As planned" : "Not as planned" }}</span>
      <span class="text-sm font-normal text-faint"
        ><span class="mono">{{ moment(scan.atMs, zone, true) }}</span
        >, {{ scan.who ? `pasted by ${scan.who}` : "sent by the node" }}</span
      >
    </h3>
    <div class="mb-3 flex flex-col gap-3"><FindingCard v-for="(f, at) in scan.report.findings" :key="at" :finding="f" /></div>
    <ul class="divide-y divide-rule border-y border-rule">
      <li v-for="(l, at) in scan.report.lines" :key="at" class="flex min-h-11 items-center gap-3 py-1">
        <SeverityMark :severity="verdicts[l.verdict].mark" />
        <span class="min-w-0 flex-1">{{ l.label }}</span>
        <span class="mono break-all">{{ l.at ?? "" }}</span>
        <span class="w-28 shrink-0 text-sm text-faint">{{ word(l) }}</span>
      </li>
    </ul>
  </section>
</template>
