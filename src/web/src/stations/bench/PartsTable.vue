<script setup lang="ts">
/** The parts of a node: how each is connected, its address and strap, and what it says about itself. */
import { ref } from "vue";
import type { BenchPlan, NodeDesign, PartInstance } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import EmptyState from "@/kit/EmptyState.vue";
import PartEditor from "./PartEditor.vue";

const props = defineProps<{ node: NodeDesign; plan: BenchPlan }>();
defineEmits<{ add: [] }>();
const site = useSite();
const edited = ref<PartInstance>();
const planned = (key: string) => props.plan.parts.find((p) => p.part === key);
const address = (key: string) => {
  const a = planned(key)?.address;
  return a == null ? "" : `0x${a.toString(16).toUpperCase().padStart(2, "0")}`;
};
const rail = (id: string | undefined) => props.plan.rails.find((r) => r.rail === id)?.label ?? "";
const readings = (key: string) => props.node.readings.filter((r) => r.part === key).length;

async function remove(p: PartInstance) {
  const n = readings(p.key);
  await site.apply(`${p.label} removed${n ? ` with ${n} ${n === 1 ? "reading" : "readings"}` : ""}`, [
    { kind: "removePart", node: props.node.key, key: p.key },
  ]);
}
</script>

<template>
  <section>
    <h2 class="mb-1 text-lg font-semibold">Parts</h2>
    <EmptyState v-if="!node.parts.length" title="No parts yet" text="Add what the node shall measure, switch or send with.">
      <AppButton v-if="site.canWrite.value" kind="lead" @click="$emit('add')">Add a part</AppButton>
    </EmptyState>
    <div v-else class="overflow-x-auto">
      <table class="grid-table">
        <thead>
          <tr>
            <th>Part</th>
            <th>Connected by</th>
            <th>Address and strap</th>
            <th>Supply</th>
            <th><span class="sr-only">Actions</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in node.parts" :key="p.key">
            <td>
              {{ p.label }}<span class="mono block text-sm text-faint">{{ p.part }}</span>
            </td>
            <td>
              <template v-if="planned(p.key)">{{
                planned(p.key)!.bus ?? (planned(p.key)!.interface === "contact" ? "contact" : "single lines")
              }}</template>
              <span v-else class="text-stop">not served</span>
            </td>
            <td>
              <span class="mono">{{ address(p.key) }}</span><span class="block text-sm text-faint">{{
                planned(p.key)?.behind ?? planned(p.key)?.strap
              }}</span>
            </td>
            <td>{{ rail(planned(p.key)?.rail) }}<span v-if="p.switchSupply" class="block text-sm text-faint">switched</span></td>
            <td class="text-right whitespace-nowrap">
              <template v-if="site.canWrite.value">
                <AppButton kind="bare" small @click="edited = p">Edit</AppButton>
                <AppButton kind="bare" small :aria-label="`Remove ${p.label}`" @click="remove(p)">Remove</AppButton>
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <PartEditor v-if="edited" :node="node" :part="edited" @close="edited = undefined" />
  </section>
</template>
