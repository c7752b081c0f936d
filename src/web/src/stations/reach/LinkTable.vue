<script setup lang="ts">
/** Each link with what it delivers, what it has to spare, and what is in its way. */
import type { PlannedLink } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FigureView from "@/kit/FigureView.vue";

defineProps<{ links: PlannedLink[] }>();
const emit = defineEmits<{ radio: [node: string]; choices: [link: PlannedLink] }>();
const looked = defineModel<string>("looked");
const site = useSite();
const words: Record<PlannedLink["verdict"], { says: string; look: string }> = {
  good: { says: "gets through", look: "text-moss" },
  weak: { says: "weak", look: "text-risk font-semibold" },
  none: { says: "does not get through", look: "text-stop font-semibold" },
  unknown: { says: "not known", look: "text-faint" },
};
/** A length in a text keeps its unit on its line. */
const unbroken = (text: string) => text.replace(/ (?=m\b)/, "\u00a0");
</script>

<template>
  <div class="overflow-x-auto">
    <table class="grid-table" aria-label="Links">
      <thead>
        <tr>
          <th>Node, and who hears it</th>
          <th class="text-right">Delivered</th>
          <th class="text-right">Margin</th>
          <th class="hidden text-right sm:table-cell">Of the answer</th>
          <th class="hidden text-right md:table-cell">Tries</th>
          <th>Through</th>
          <th class="hidden text-right sm:table-cell">Distance</th>
          <th class="hidden lg:table-cell">Channel</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="l in links"
          :key="l.node"
          :data-link="l.node"
          :class="looked === l.node ? 'bg-paper' : ''"
          @mouseenter="looked = l.node"
          @focusin="looked = l.node"
        >
          <td>
            {{ l.label }}<span class="block text-sm text-faint">{{ l.receiverLabel ?? "nobody" }}</span>
            <span class="block text-sm" :class="words[l.verdict].look">{{ words[l.verdict].says }}</span>
            <span class="-ml-2 flex flex-wrap">
              <AppButton kind="bare" small :aria-label="`What if: ${l.label}`" @click="emit('choices', l)">What if…</AppButton>
              <AppButton
                v-if="site.canWrite.value && l.kind !== 'wifi'"
                kind="bare"
                small
                :aria-label="`Radio of ${l.label}`"
                @click="emit('radio', l.node)"
                >Radio</AppButton
              >
            </span>
          </td>
          <td class="text-right"><FigureView :figure="l.delivered" /></td>
          <td class="text-right"><FigureView :figure="l.margin" /></td>
          <td class="hidden text-right sm:table-cell">
            <span v-if="l.back.value === null && l.margin.value !== null" class="text-sm text-faint">none</span>
            <FigureView v-else :figure="l.back" />
          </td>
          <td class="hidden text-right md:table-cell"><FigureView :figure="l.tries" /></td>
          <td class="text-sm">
            <span v-if="!l.inTheWay.length" class="text-faint">{{ l.distance.value === null ? "" : "nothing in the way" }}</span>
            <span v-for="w in l.inTheWay" :key="w" class="block">{{ unbroken(w) }}</span>
          </td>
          <td class="hidden text-right sm:table-cell"><FigureView :figure="l.distance" /></td>
          <td class="hidden text-sm text-faint lg:table-cell">
            {{ l.channel }}<span v-if="l.rate" class="block"><FigureView :figure="l.rate" /></span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
