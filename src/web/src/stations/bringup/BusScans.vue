<script setup lang="ts">
/** What a node finds on its buses, held against the plan; probes are named. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { api, answer, sentence, type NodeDesign, type NodePlan } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FormField from "@/kit/FormField.vue";
import { moment } from "@/kit/format";
import ProbeNames from "./ProbeNames.vue";
import ScanResult from "./ScanResult.vue";

const props = defineProps<{ node: NodeDesign; plan: NodePlan; zone: string }>();
const site = useSite();
const queries = useQueryClient();
const key = computed(() => props.node.key);
const query = useQuery({
  queryKey: ["scans", site.key, key, computed(() => site.site.value?.revision)],
  placeholderData: (old) => old,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/scans", {
        params: { path: { site: site.key.value, node: key.value } },
      }),
    ),
});
const text = ref("");
const fault = ref("");
const busy = ref(false);
watch(key, () => ((text.value = ""), (fault.value = "")));
const latest = computed(() => query.data.value?.[0]);
const planned = computed(() => props.plan.bench.parts.filter((p) => p.interface === "i2c" || p.interface === "oneWire"));
const hex = (address: number) => `0x${address.toString(16).toUpperCase().padStart(2, "0")}`;

async function compare(pasted: string) {
  busy.value = true;
  const { error, response } = await api.POST("/api/sites/{site}/nodes/{node}/scans", {
    params: { path: { site: site.key.value, node: key.value } },
    body: { text: pasted },
  });
  busy.value = false;
  fault.value = response.ok ? "" : sentence(error);
  if (!response.ok) return;
  text.value = "";
  await queries.invalidateQueries({ queryKey: ["scans"] });
}
</script>

<template>
  <section class="mb-6 max-w-2xl">
    <h2 class="text-lg font-semibold">Scan of its buses</h2>
    <p v-if="!planned.length" class="text-faint">Nothing of this node is on I2C or 1-Wire: there is nothing to scan.</p>
    <template v-else>
      <p class="mb-2 text-sm text-faint">
        Planned:
        <span v-for="p in planned" :key="p.part" class="mr-3 inline-block"
          >{{ p.label }} <span class="mono">{{ p.address == null ? p.bus : hex(p.address) }}</span></span
        >
      </p>
      <form v-if="site.canWrite.value" class="flex flex-col gap-2" @submit.prevent="compare(text)">
        <FormField v-slot="{ id, described }" label="What the scan printed" :fault="fault">
          <textarea
            :id="id"
            v-model="text"
            rows="3"
            class="field mono w-full"
            :aria-describedby="described"
            placeholder="0x23 0x76, or a table, or 28-FF641E8D1603BD"
          />
        </FormField>
        <div class="flex flex-wrap gap-2">
          <AppButton kind="lead" type="submit" class="min-h-11" :disabled="busy || !text.trim()">Compare with the plan</AppButton>
          <AppButton class="min-h-11" :disabled="busy" @click="compare('none')">Nothing answered</AppButton>
        </div>
        <p class="text-sm text-faint">
          Or let the node publish it as text to
          <span class="mono break-all">site/{{ site.key.value }}/{{ node.key }}/scan</span>.
        </p>
      </form>
    </template>
  </section>
  <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
  <template v-if="latest">
    <ScanResult :scan="latest" :zone="zone" :node="node" />
    <ProbeNames v-if="latest.report.unnamed.length" :node="node" :codes="latest.report.unnamed" />
    <details v-if="query.data.value!.length > 1" class="mt-4">
      <summary class="min-h-9 cursor-pointer text-act">Scans before</summary>
      <ul class="flex flex-col gap-1">
        <li v-for="s in query.data.value!.slice(1)" :key="s.id">
          <span class="mono text-sm text-faint">{{ moment(s.atMs, zone, true) }}</span>
          {{ s.report.findings.length ? s.report.findings[0]!.what : "as planned" }}
        </li>
      </ul>
    </details>
  </template>
</template>
