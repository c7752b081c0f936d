<script setup lang="ts">
/** The margin beside the sheet: the working that was asked for, then the findings of this station. On a phone it is a drawer. */
import { computed, ref, watch } from "vue";
import type { Finding } from "@/api/client";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import FigureWorking from "./FigureWorking.vue";
import { useMargin } from "./margin";

const props = defineProps<{
  findings: Finding[];
  /** True when something stands on the station that is checked: only of that it can be said that nothing is wrong. */
  judged: boolean;
}>();
const { note, close } = useMargin();
const open = ref(false);
const showNotes = ref(false);
const serious = computed(() => props.findings.filter((f) => f.severity !== "note"));
const notes = computed(() => props.findings.filter((f) => f.severity === "note"));
const shown = computed(() => props.judged || props.findings.length > 0 || !!note.value);
watch(note, (n) => n && (open.value = true));
</script>

<template>
  <!-- The sheet takes the whole width while there is nothing to say. -->
  <button
    v-if="shown"
    type="button"
    class="fixed right-3 bottom-16 z-20 flex min-h-11 items-center gap-2 border border-rule bg-sheet px-3 shadow-lg lg:hidden"
    :aria-expanded="open"
    @click="open = !open"
  >
    <SeverityMark :severity="findings[0]?.severity ?? 'fine'" />
    {{ open ? "Close the margin" : `Margin: ${findings.length}` }}
  </button>
  <aside
    v-if="shown"
    class="border-rule bg-paper lg:sticky lg:top-12 lg:block lg:max-h-[calc(100vh-3rem)] lg:w-80 lg:shrink-0 lg:overflow-y-auto lg:border-l"
    :class="open ? 'fixed inset-x-0 top-12 bottom-28 z-10 overflow-y-auto border-t p-1' : 'hidden'"
    aria-label="Margin"
  >
    <section v-if="note" class="border-b border-rule p-3" aria-label="Working">
      <div class="mb-2 flex items-start justify-between gap-2">
        <h2 class="font-semibold">{{ note.title }}</h2>
        <button type="button" class="px-1 text-faint hover:text-ink" aria-label="Close the working" @click="close">✕</button>
      </div>
      <FigureWorking v-if="note.figure" :figure="note.figure" />
      <component :is="note.component" v-else-if="note.component" v-bind="note.props" />
    </section>
    <section v-if="judged || findings.length" class="flex flex-col gap-3 p-3" aria-label="Findings">
      <h2 class="caps">Findings</h2>
      <p v-if="!findings.length"><SeverityMark severity="fine" /> No problems found.</p>
      <FindingCard v-for="(f, at) in serious" :key="f.code + at + f.what" :finding="f" />
      <template v-if="notes.length">
        <button
          v-if="serious.length && !showNotes"
          type="button"
          class="self-start text-sm text-act hover:underline"
          @click="showNotes = true"
        >
          {{ notes.length }} {{ notes.length === 1 ? "note" : "notes" }} and cautions
        </button>
        <template v-else>
          <FindingCard v-for="(f, at) in notes" :key="f.code + at + f.what" :finding="f" />
        </template>
      </template>
    </section>
  </aside>
</template>
