<script setup lang="ts">
/** One finding with what can be done about it: one click, one undo. */
import { ref } from "vue";
import type { Finding, Remedy } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "./AppButton.vue";
import SeverityMark from "./SeverityMark.vue";
import { unbroken } from "./format";

defineProps<{ finding: Finding }>();
const { apply, canWrite } = useSite();
const busy = ref(false);

async function doIt(remedy: Remedy) {
  busy.value = true;
  await apply(remedy.label, remedy.edits);
  busy.value = false;
}
</script>

<template>
  <article
    class="border-l-2 py-1 pl-3"
    :class="{ stop: 'border-stop', risk: 'border-risk', note: 'border-rule' }[finding.severity]"
  >
    <p class="leading-snug">
      <SeverityMark :severity="finding.severity" word class="mr-1 text-sm" />
      {{ unbroken(finding.what) }}
    </p>
    <p v-if="finding.code !== 'BENCH-CAUTION'" class="text-sm leading-snug text-faint">{{ unbroken(finding.why) }}</p>
    <p v-if="finding.advice" class="mt-1 text-sm leading-snug">{{ unbroken(finding.advice) }}</p>
    <div v-if="finding.remedies.length && canWrite" class="mt-1.5 flex flex-wrap gap-1.5">
      <AppButton v-for="r in finding.remedies" :key="r.label" small :disabled="busy" @click="doIt(r)">{{ r.label }}</AppButton>
    </div>
  </article>
</template>
