<script setup lang="ts">
/** What this station will do; nothing of it is there yet. */
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
</script>

<template>
  <PageHead title="Log" asks="What did I build, change, calibrate, replace, and was I right?" />
  <EmptyState
    title="Not built yet"
    text="This station will keep a dated log that fills itself, and set predicted battery life beside what really happened. Every edit is already kept as a revision."
  />
</template>
