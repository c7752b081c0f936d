<script setup lang="ts">
/** What each radio module uses of what the law of the region allows. */
import type { LawBudget } from "@/api/client";
import FigureView from "@/kit/FigureView.vue";

defineProps<{ law: LawBudget[] }>();
</script>

<template>
  <section class="mt-6" aria-label="Law">
    <h2 class="mb-1 text-lg font-semibold">What the law allows</h2>
    <div class="overflow-x-auto">
      <table class="grid-table" aria-label="Law">
        <thead>
          <tr>
            <th>Radio</th>
            <th class="hidden sm:table-cell">Band</th>
            <th class="text-right">Radiated</th>
            <th class="text-right">On the air</th>
            <th class="hidden text-right sm:table-cell">Messages an hour left</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in law" :key="l.node" :data-law="l.node">
            <td>
              {{ l.label }}<span class="block text-sm text-faint">{{ l.channel }}</span>
            </td>
            <td class="hidden text-sm sm:table-cell">{{ l.band ?? "in none" }}</td>
            <td class="text-right">
              <FigureView :figure="l.radiated" /><span v-if="l.most !== null" class="block text-sm text-faint"
                >of {{ l.most }}</span
              >
            </td>
            <td class="text-right">
              <FigureView :figure="l.onAir" /><span class="block text-sm text-faint">{{
                l.mostOnAir === null ? "no limit" : `of ${l.mostOnAir} %`
              }}</span>
              <template v-if="l.longest"
                ><FigureView :figure="l.longest" /><span class="block text-sm text-faint"
                  >of {{ l.mostAtOnce }} ms at a stretch</span
                ></template
              >
            </td>
            <td class="hidden text-right sm:table-cell"><FigureView v-if="l.messagesLeft" :figure="l.messagesLeft" /></td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-2 max-w-3xl text-sm text-faint">
      Planning values from published tables: local law comes first. Time on the air is that of an average hour, with the tries of
      each message.
    </p>
  </section>
</template>
