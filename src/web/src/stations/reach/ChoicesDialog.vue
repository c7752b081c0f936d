<script setup lang="ts">
/** A link as it would be: by another radio, or with who hears it at another spot; side by side with what is. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type DesignEdit, type PlannedLink } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import FigureView from "@/kit/FigureView.vue";

const props = defineProps<{ link: PlannedLink }>();
const emit = defineEmits<{ close: [] }>();
const site = useSite();
const choices = useQuery({
  queryKey: ["reach-choices", site.key, computed(() => site.site.value?.revision), props.link.node],
  queryFn: ({ signal }) =>
    answer(
      api.GET("/api/sites/{site}/reach/choices", {
        params: { path: { site: site.key.value }, query: { node: props.link.node } },
        signal,
      }),
    ),
});
const radios = computed(() => choices.data.value?.radios ?? []);
const spots = computed(() => choices.data.value?.spots ?? []);

async function take(what: string, edits: DesignEdit[]) {
  const done = await site.apply(what, edits);
  if (done.ok) emit("close");
}
</script>

<template>
  <AppDialog open :title="`What if: ${link.label}`" wide @close="$emit('close')">
    <p v-if="choices.isPending.value" class="text-faint" role="status">Working out the choices…</p>
    <p v-else-if="choices.error.value" class="text-stop" role="alert">{{ choices.error.value.message }}</p>
    <template v-else>
      <h3 class="mb-1 font-semibold">By which radio</h3>
      <div class="overflow-x-auto">
        <table class="grid-table" aria-label="Radios">
          <thead>
            <tr>
              <th>Radio</th>
              <th class="text-right">Delivered</th>
              <th class="text-right">Margin</th>
              <th class="hidden text-right sm:table-cell">On its cells</th>
              <th><span class="sr-only">Actions</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in radios" :key="c.label" :class="c.isNow ? 'font-semibold' : ''">
              <td>
                {{ c.label }}<span v-if="c.isNow" class="block text-sm text-faint">as it is</span>
                <span v-else-if="!c.findsPins" class="block text-sm text-risk">its board has no pins left for it</span>
              </td>
              <td class="text-right"><FigureView :figure="c.link.delivered" /></td>
              <td class="text-right"><FigureView :figure="c.link.margin" /></td>
              <td class="hidden text-right sm:table-cell"><FigureView v-if="c.life" :figure="c.life" /></td>
              <td class="text-right">
                <AppButton
                  v-if="!c.isNow && c.findsPins && site.canWrite.value"
                  small
                  class="whitespace-nowrap"
                  @click="take(`${link.label} sends by ${c.label}`, c.edits)"
                  >Send so</AppButton
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="radios.length === 1" class="mt-1 text-sm text-faint">
        There is no other: its board has no Wi-Fi beside it, or no other gateway with a radio module is planned.
      </p>
      <template v-if="spots.length">
        <h3 class="mt-4 mb-1 font-semibold">{{ link.receiverLabel }} elsewhere</h3>
        <div class="overflow-x-auto">
          <table class="grid-table" aria-label="Spots">
            <thead>
              <tr>
                <th>Spot</th>
                <th class="text-right">Get through</th>
                <th class="text-right">Weakest</th>
                <th><span class="sr-only">Actions</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in spots" :key="s.spot" :class="s.isNow ? 'font-semibold' : ''">
                <td>{{ s.label }}<span v-if="s.isNow" class="block text-sm text-faint">as it is</span></td>
                <td class="mono text-right">{{ s.good }} of {{ s.of }}</td>
                <td class="text-right">
                  <FigureView :figure="s.weakest" /><span class="block text-sm text-faint">{{ s.weakestOf }}</span>
                </td>
                <td class="text-right">
                  <AppButton
                    v-if="!s.isNow && site.canWrite.value"
                    small
                    class="whitespace-nowrap"
                    @click="take(`${link.receiverLabel} moved to ${s.label}`, s.edits)"
                    >Move it</AppButton
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="spots.length === 1" class="mt-1 text-sm text-faint">No spot is free: add one at Place to try it.</p>
      </template>
    </template>
  </AppDialog>
</template>
