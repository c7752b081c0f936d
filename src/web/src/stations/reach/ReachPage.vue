<script setup lang="ts">
/** The links of radio modules: who hears whom, through which walls, with how much to spare. */
import { computed } from "vue";
import { useSite } from "@/app/site";
import EmptyState from "@/kit/EmptyState.vue";
import FigureView from "@/kit/FigureView.vue";
import PageHead from "@/kit/PageHead.vue";

const site = useSite();
const links = computed(() => site.plan.value?.reach.links ?? []);
</script>

<template>
  <PageHead title="Reach" asks="Will it get through, by which radio, over which relay?" />
  <EmptyState
    v-if="site.plan.value && !links.length"
    title="No radio module sends here"
    text="A node that sends over a radio module, and the node that hears it, are shown here with what the walls between them take."
  />
  <template v-else-if="links.length">
    <div class="overflow-x-auto">
      <table class="grid-table" aria-label="Links">
        <thead>
          <tr>
            <th>Node, and who hears it</th>
            <th class="text-right">Delivered</th>
            <th class="text-right">Margin</th>
            <th class="hidden text-right sm:table-cell">Of the answer</th>
            <th>Through</th>
            <th class="hidden text-right sm:table-cell">Distance</th>
            <th class="hidden lg:table-cell">Channel</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in links" :key="l.node" :data-link="l.node">
            <td>
              {{ l.label }}<span class="block text-sm text-faint">{{ l.receiverLabel ?? "not said" }}</span>
            </td>
            <td class="text-right"><FigureView :figure="l.delivered" /></td>
            <td class="text-right"><FigureView :figure="l.margin" /></td>
            <td class="hidden text-right sm:table-cell"><FigureView :figure="l.back" /></td>
            <td class="text-sm">
              <span v-if="!l.walls.length" class="text-faint">{{ l.distance.value === null ? "" : "no wall" }}</span>
              <span v-for="w in l.walls" :key="w" class="block">{{ w }}</span>
            </td>
            <td class="hidden text-right sm:table-cell"><FigureView :figure="l.distance" /></td>
            <td class="hidden text-sm text-faint lg:table-cell">{{ l.channel }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-3 max-w-3xl text-sm text-faint">
      Margin is what the signal has to spare above the weakest that is understood; delivered is with all tries, and without
      collisions, of which Rhythm tells. Walls have their usual thickness. Metal, wet brick, coated glass and a body in the way
      take more: walk it before you screw it on. Power, antenna and time on the air are limited by the law of your region, which
      comes first.
    </p>
    <p class="mt-2 max-w-3xl text-sm text-faint">
      Yet to come here: Wi-Fi, a map of the margin, the law of your region, relays, and the fit to what was measured.
    </p>
  </template>
</template>
