<script setup lang="ts">
/** A stretch of the day, on chosen days, by the clock on the wall. */
import CheckBox from "@/kit/CheckBox.vue";
import TextField from "@/kit/TextField.vue";
import { days, type Day } from "./tell";

/** `field` is the path of the stretch in the edit. */
defineProps<{ field: string; zone: string }>();
const from = defineModel<string>("from", { required: true });
const to = defineModel<string>("to", { required: true });
const on = defineModel<Day[]>("on", { required: true });
</script>

<template>
  <div class="grid gap-3 sm:grid-cols-2">
    <TextField v-model="from" label="From" mono :field="`${field}.fromMinute`" />
    <TextField
      v-model="to"
      label="To"
      mono
      :field="`${field}.toMinute`"
      :hint="`By the clock on the wall, ${zone}; over midnight is fine.`"
    />
  </div>
  <div class="flex flex-wrap gap-x-4" role="group" aria-label="Days on which it begins">
    <CheckBox
      v-for="d in days"
      :key="d"
      :label="d[0]!.toUpperCase() + d.slice(1, 3)"
      :model-value="on.includes(d)"
      @update:model-value="on = $event ? [...on, d] : on.filter((x) => x !== d)"
    />
  </div>
</template>
