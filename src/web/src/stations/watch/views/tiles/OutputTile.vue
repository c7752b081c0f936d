<script setup lang="ts">
/** An output with its switch. */
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, sentence, type TileContent } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import { duration } from "@/kit/format";
import { say } from "@/kit/notices";
import { useOutputs } from "../../outputs";
import { find, useBoard } from "../board";

const props = defineProps<{ content: Extract<TileContent, { kind: "output" }> }>();
const board = useBoard();
const site = useSite();
const queries = useQueryClient();
const busy = ref(false);
const query = useOutputs(site);
const output = computed(() =>
  query.data.value?.outputs.find((o) => o.node === props.content.output.node && o.output === props.content.output.reading),
);
const on = computed(() => (find(board.readings.value, props.content.output)?.newest?.value ?? 0) > 0);

async function turn(to: boolean) {
  busy.value = true;
  const { data, error } = await api.POST("/api/sites/{site}/outputs/{node}/{output}", {
    params: { path: { site: site.key.value, node: output.value!.node, output: output.value!.output } },
    body: { on: to, forMs: null },
  });
  busy.value = false;
  if (!data) say(sentence(error), { bad: true });
  await queries.invalidateQueries({ queryKey: ["outputs"] });
}
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col justify-between gap-1">
    <p class="mono text-3xl leading-tight font-semibold" :class="on ? 'text-moss' : 'text-faint'">{{ on ? "on" : "off" }}</p>
    <p v-if="!output" class="text-sm text-faint">This output is gone; choose another.</p>
    <p v-else-if="output.awaitsOff" class="text-sm text-risk">Off is ordered, and not yet confirmed by the node.</p>
    <p v-else-if="output.why && !on" class="text-sm text-faint">{{ output.why }}</p>
    <AppButton v-else-if="site.canWrite.value" class="min-h-11 self-start" :disabled="busy" @click="turn(!on)">{{
      on ? "Switch off" : `On for ${duration(output.maxOnMs!)} at most`
    }}</AppButton>
  </div>
</template>
