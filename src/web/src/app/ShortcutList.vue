<script setup lang="ts">
/** The list of shortcuts, and the switch that turns them off. */
import AppDialog from "@/kit/AppDialog.vue";
import { shortcutsOn } from "./shortcuts";

defineProps<{ open: boolean }>();
defineEmits<{ close: [] }>();
const keys = [
  ["1 to 8", "go to a station"],
  ["/", "find anything in the site"],
  [".", "working of the focused figure"],
  ["z", "undo"],
  ["Shift+z", "redo"],
  ["Ctrl+Z", "undo, always on"],
  ["n", "new here"],
  ["?", "this list"],
];
</script>

<template>
  <AppDialog :open="open" title="Shortcuts" @close="$emit('close')">
    <table class="grid-table">
      <tbody>
        <tr v-for="[key, does] in keys" :key="key">
          <td class="mono w-32">{{ key }}</td>
          <td>{{ does }}</td>
        </tr>
      </tbody>
    </table>
    <label class="mt-3 flex min-h-11 items-center gap-2"
      ><input v-model="shortcutsOn" type="checkbox" class="size-4" /> Single-key shortcuts are on</label
    >
    <p class="mt-2 text-sm text-faint">
      <RouterLink class="underline" to="/notices">Licences of what ships with Cenotic</RouterLink>
    </p>
  </AppDialog>
</template>
