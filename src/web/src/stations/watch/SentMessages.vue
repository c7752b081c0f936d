<script setup lang="ts">
/** What the demo would have sent to people, the newest first. */
import type { SunkMessage } from "@/api/client";
import { moment } from "@/kit/format";

defineProps<{ what: string; messages: SunkMessage[] }>();
</script>

<template>
  <details v-if="messages.length" class="mt-2">
    <summary class="min-h-8 cursor-pointer text-act">{{ messages.length }} {{ what }} that would have gone out</summary>
    <ul class="flex max-h-56 flex-col gap-2 overflow-y-auto" tabindex="0" :aria-label="what[0]!.toUpperCase() + what.slice(1)">
      <li v-for="(m, at) in messages" :key="at">
        <span class="mono text-sm text-faint">{{ moment(Date.parse(m.at), "UTC", true) }} UTC</span> to {{ m.to }}
        <pre class="mono text-sm whitespace-pre-wrap">{{ m.text }}</pre>
      </li>
    </ul>
  </details>
</template>
