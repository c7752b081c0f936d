<script setup lang="ts">
/** The same parts on every board, side by side: what fits, what is left, what it takes. */
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { api, answer, type BoardOption, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { number } from "@/kit/format";
import { setNode } from "./node-edits";

const props = defineProps<{ node: NodeDesign }>();
const site = useSite();
const query = useQuery({
  queryKey: ["boards", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  placeholderData: (old: BoardOption[] | undefined) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/boards", {
        params: { path: { site: site.key.value, node: props.node.key } },
      }),
    ),
});
const milliamps = (v: number | null) => (v === null ? "not known" : v < 0.1 ? `${number(v * 1000)} µA` : `${number(v)} mA`);
const held = computed(() => props.node.wires.length);

async function use(o: BoardOption) {
  const n = props.node;
  await site.apply(`${n.label} is on the ${o.label} now`, [
    ...n.wires.map((w) => ({ kind: "removeWire" as const, node: n.key, part: w.part, line: w.line })),
    setNode(n, { board: o.board }),
  ]);
}
</script>

<template>
  <section>
    <p class="mb-2 text-faint">
      The parts of {{ node.label }} planned on every board.
      <template v-if="held"
        >Taking another board lets go of {{ held }} held {{ held === 1 ? "wire" : "wires" }}; undo brings them back.</template
      >
    </p>
    <p v-if="query.isPending.value" role="status">Planning on every board…</p>
    <p v-else-if="query.error.value" class="text-stop" role="alert">{{ query.error.value.message }}</p>
    <div v-else class="overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Board</th>
            <th>Fits</th>
            <th class="text-right">Pins left</th>
            <th class="text-right">Additions</th>
            <th>Modules</th>
            <th class="text-right">Awake</th>
            <th class="text-right">Board asleep</th>
            <th class="text-right">At hand</th>
            <th class="text-right">Price</th>
            <th><span class="sr-only">Take it</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="o in query.data.value" :key="o.board" :class="o.current ? 'bg-paper' : ''">
            <td>{{ o.label }}<span v-if="o.current" class="block text-sm text-faint">this node's board</span></td>
            <td class="max-w-72">
              <SeverityMark :severity="o.fits ? 'fine' : 'stop'" word />
              <span v-if="o.why" class="block text-sm text-faint">{{ o.why }}</span>
            </td>
            <td class="mono text-right">{{ o.pinsLeft }}</td>
            <td class="mono text-right">{{ o.additions }}</td>
            <td class="mono text-sm">{{ o.modules.join(", ") }}</td>
            <td class="mono text-right whitespace-nowrap">{{ milliamps(o.activeMilliamps) }}</td>
            <td class="mono text-right whitespace-nowrap">
              {{ o.sleepMilliamps === null ? "no sleep" : milliamps(o.sleepMilliamps) }}
            </td>
            <td class="mono text-right">{{ o.onHand }}</td>
            <td class="mono text-right">{{ o.price === null ? "" : o.price.toFixed(2) }}</td>
            <td class="text-right">
              <AppButton v-if="site.canWrite.value && !o.current" small :aria-label="`Use the ${o.label}`" @click="use(o)"
                >Use</AppButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
