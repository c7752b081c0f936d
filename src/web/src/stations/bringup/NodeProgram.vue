<script setup lang="ts">
/** What the program of a node is made from, and whether what it runs is the plan on the screen. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence, type NodeDesign } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import FindingCard from "@/kit/FindingCard.vue";
import SeverityMark from "@/kit/SeverityMark.vue";
import { kibibytes, moment } from "@/kit/format";
import { saveFile } from "@/kit/save-file";
import SecretsDialog from "./SecretsDialog.vue";

const props = defineProps<{ node: NodeDesign; zone: string }>();
const site = useSite();
const queries = useQueryClient();
const path = computed(() => ({ site: site.key.value, node: props.node.key }));
const query = useQuery({
  queryKey: ["program", site.key, computed(() => props.node.key), computed(() => site.site.value?.revision)],
  refetchInterval: 5000,
  placeholderData: (old) => old,
  queryFn: () => answer(api.GET("/api/sites/{site}/nodes/{node}/program", { params: { path: path.value } })),
});
const fault = ref("");
const busy = ref(false);
const secrets = ref(false);
const program = computed(() => query.data.value);
const runs = computed(() => program.value?.newest?.settings);
/** What it told of itself, in few words. */
const told = computed(() => {
  const n = program.value?.newest;
  if (!n) return "";
  return [
    n.firmware && `program ${n.firmware}`,
    n.reset && `started by ${n.reset}`,
    n.supplyVolts !== null && `${n.supplyVolts.toFixed(2)} V`,
    n.freeBytes !== null && `${kibibytes(n.freeBytes)} free`,
    moment(n.atMs, props.zone, true),
  ]
    .filter(Boolean)
    .join(" · ");
});

async function save() {
  busy.value = true;
  const { data, error, response } = await api.POST("/api/sites/{site}/nodes/{node}/bundle", {
    params: { path: path.value },
    parseAs: "blob",
  });
  busy.value = false;
  fault.value = data ? "" : sentence(error);
  if (!data) return;
  const name = /filename="?([^";]+)/.exec(response.headers.get("content-disposition") ?? "")?.[1];
  saveFile(name ?? `${props.node.key}.zip`, data as unknown as Blob);
  await queries.invalidateQueries({ queryKey: ["program"] });
}
</script>

<template>
  <section class="mb-6 max-w-2xl" data-program>
    <h2 class="text-lg font-semibold">Its program</h2>
    <p v-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <template v-if="program">
      <dl class="mt-1 grid grid-cols-[auto_1fr] items-baseline gap-x-4 gap-y-1">
        <dt class="caps">Plan</dt>
        <dd>
          settings <span class="mono">{{ program.hash }}</span>
          <span class="text-sm text-faint"
            >,
            {{
              program.savedMs
                ? `saved ${moment(program.savedMs, zone, true)} by ${program.savedWho}`
                : "not saved for a program yet"
            }}</span
          >
        </dd>
        <dt class="caps">It runs</dt>
        <dd class="flex items-baseline gap-2">
          <SeverityMark v-if="runs" :severity="runs === program.hash ? 'fine' : 'risk'" class="mt-1 self-start" />
          <span
            ><span v-if="runs" class="mono">{{ runs }}</span
            ><template v-else>not told</template> <span class="text-sm text-faint">{{ told }}</span></span
          >
        </dd>
      </dl>
      <div v-if="program.findings.length" class="mt-2 flex flex-col gap-2">
        <FindingCard v-for="f in program.findings" :key="f.code" :finding="f" />
      </div>
      <div v-if="site.canWrite.value" class="mt-3 flex flex-wrap gap-2">
        <AppButton class="min-h-11" :disabled="busy" @click="save">Save settings and client</AppButton>
        <AppButton class="min-h-11" @click="secrets = true">Its secrets…</AppButton>
      </div>
      <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
      <p v-if="site.canWrite.value" class="mt-1 text-sm text-faint">
        A C header, the same as JSON, and a client in C99 to build on.
        {{
          program.clientSends
            ? "It sends by itself over the network of this board."
            : "It makes the messages of this node and repeats them until they are answered; handing them to what sends is left to you."
        }}
        Keys and passwords are not in it.
      </p>
    </template>
    <SecretsDialog v-if="secrets" :node="node" :has-key="program?.hasKey ?? false" @close="secrets = false" />
  </section>
</template>
