<script setup lang="ts">
/** What this station will do; nothing of it is there yet. */
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
</script>

<template>
  <PageHead title="Bring-up" asks="Is what I soldered what I planned? Does it measure true?" />
  <EmptyState
    title="Not built yet"
    text="This station will lead through building a node in safe order, compare a bus scan with the plan and say what is wrong, name probes one by one, and keep calibrations with what was left over."
  />
</template>
