<script setup lang="ts">
/** What this station will do; nothing of it is there yet. */
import EmptyState from "@/kit/EmptyState.vue";
import PageHead from "@/kit/PageHead.vue";
</script>

<template>
  <PageHead title="Reach" asks="Will it get through, by which radio, over which relay?" />
  <EmptyState
    title="Not built yet"
    text="This station will work out link margin through the walls that are on the plan, airtime and the legal duty cycle of your region, and which relay to use; and it will rehearse the whole network over days in seconds."
  />
</template>
