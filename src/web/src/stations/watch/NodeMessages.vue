<script setup lang="ts">
/** A node's page: what it would have to send, its key, what came, and what was refused and why. */
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/vue";
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { api, answer, sentence } from "@/api/client";
import { useSite } from "@/app/site";
import AppButton from "@/kit/AppButton.vue";
import AppDialog from "@/kit/AppDialog.vue";
import { moment } from "@/kit/format";
import { say } from "@/kit/notices";
import ArrivalList from "./ArrivalList.vue";
import NodeStatusLine from "./NodeStatusLine.vue";
import { useReadings } from "./readings";

const props = defineProps<{ node: string }>();
const languages: Record<string, string> = { shell: "Shell", python: "Python", c: "C" };
defineEmits<{ close: [] }>();
const site = useSite();
const queries = useQueryClient();
const query = useQuery({
  queryKey: ["messages", site.key, props.node],
  refetchInterval: 4000,
  queryFn: () =>
    answer(
      api.GET("/api/sites/{site}/nodes/{node}/messages", {
        params: { path: { site: site.key.value, node: props.node } },
      }),
    ),
});
const zone = computed(() => site.design.value?.settings.timeZone ?? "UTC");
const label = computed(() => site.node(props.node)?.label ?? props.node);
const { readings } = useReadings(site);
const unit = (key: string) => readings.value.find((r) => r.node === props.node && r.key === key)?.unit ?? "";
const issued = ref("");
const fault = ref("");
const sure = ref(false);

async function copy(text: string) {
  try {
    await navigator.clipboard.writeText(text);
    say("Copied");
  } catch {
    say("The browser did not let it be copied; mark the text and copy it by hand.", { bad: true });
  }
}

async function issue() {
  const { data, error } = await api.POST("/api/sites/{site}/nodes/{node}/key", {
    params: { path: { site: site.key.value, node: props.node } },
  });
  issued.value = data?.key ?? "";
  fault.value = data ? "" : sentence(error);
  sure.value = false;
  await queries.invalidateQueries({ queryKey: ["messages"] });
}
</script>

<template>
  <AppDialog open wide :title="label" @close="$emit('close')">
    <p v-if="query.isPending.value" class="text-faint">Loading…</p>
    <p v-else-if="query.error.value" role="alert">{{ query.error.value.message }}</p>
    <div v-else-if="query.data.value" class="flex flex-col gap-5">
      <NodeStatusLine :view="query.data.value" :zone="zone" />
      <section>
        <h3 class="mb-1 font-semibold">Last messages</h3>
        <ArrivalList :arrivals="query.data.value.arrivals" :zone="zone" :unit="unit" />
      </section>
      <section>
        <h3 class="mb-1 font-semibold">Refused</h3>
        <p v-if="!query.data.value.refusals.length" class="text-faint">Nothing was refused.</p>
        <ul class="flex max-h-48 flex-col gap-1.5 overflow-y-auto" tabindex="0" aria-label="Refused messages">
          <li v-for="(r, at) in query.data.value.refusals" :key="at">
            <span class="mono text-sm text-faint">{{ moment(r.atMs, zone, true) }}</span> {{ r.reason }}
            <span v-if="r.more" class="text-faint">({{ r.more }} more before it in that minute)</span
            ><span v-if="r.excerpt" class="mono block overflow-hidden text-sm text-ellipsis text-faint">{{ r.excerpt }}</span>
          </li>
        </ul>
      </section>
      <section>
        <h3 class="mb-1 font-semibold">What it has to send</h3>
        <dl class="grid grid-cols-[7rem_minmax(0,1fr)] gap-y-1">
          <dt class="text-faint">Broker</dt>
          <dd class="mono break-all">
            {{ query.data.value.send.broker }}, MQTT 3.1.1 or 5, QoS 1<template v-if="query.data.value.send.brokerTls"
              >; with TLS {{ query.data.value.send.brokerTls }}</template
            >; {{ query.data.value.send.webSocket }}
          </dd>
          <dt class="text-faint">Or by HTTP</dt>
          <dd class="mono break-all">POST {{ query.data.value.send.address }}</dd>
          <dt class="text-faint">Name</dt>
          <dd class="mono">{{ query.data.value.send.userName }}</dd>
          <dt class="text-faint">Password</dt>
          <dd>its key{{ query.data.value.send.hasKey ? "" : ", which it does not have yet" }}</dd>
          <dt class="text-faint">Topic</dt>
          <dd class="mono break-all">{{ query.data.value.send.topic }}</dd>
          <dt class="text-faint">Payload</dt>
          <dd>
            <pre class="mono overflow-x-auto border border-rule bg-paper p-2 whitespace-pre-wrap" tabindex="0">{{
              query.data.value.send.examplePayload
            }}</pre>
            <span class="text-sm text-faint"
              >SenML JSON (RFC 8428), {{ query.data.value.send.exampleBytes }} bytes; the same in CBOR has
              {{ query.data.value.send.cborBytes }} bytes. Without "bt" arrival is taken as the time. A flat object is taken too:
              <span class="mono break-all">{{ query.data.value.send.flatExample }}</span>, and a single number at the topic or
              address with /READING at its end.</span
            >
          </dd>
        </dl>
        <h4 class="mt-3 mb-1 font-semibold">A program to begin from</h4>
        <TabGroup>
          <TabList class="flex flex-wrap gap-1">
            <Tab v-for="s in query.data.value.send.snippets" :key="s.language + s.title" v-slot="{ selected }" as="template">
              <button
                class="min-h-8 border px-2 text-sm"
                :class="selected ? 'border-act font-semibold' : 'border-rule text-faint'"
              >
                {{ languages[s.language] ?? s.language }}, {{ s.title.replace(/^O/, "o") }}
              </button>
            </Tab>
          </TabList>
          <TabPanels>
            <TabPanel v-for="s in query.data.value.send.snippets" :key="s.language + s.title" tabindex="-1">
              <p class="mt-1 flex flex-wrap items-center gap-3 text-sm text-faint">
                <span>Needs {{ s.needs }}; the key in the environment variable CENOTIC_KEY.</span>
                <AppButton small @click="copy(s.text)">Copy</AppButton>
              </p>
              <pre class="mono mt-1 max-h-72 overflow-auto border border-rule bg-paper p-2 text-sm" tabindex="0">{{
                s.text
              }}</pre>
            </TabPanel>
          </TabPanels>
        </TabGroup>
        <div v-if="site.canWrite.value" class="mt-2">
          <p v-if="issued" class="border-l-2 border-moss pl-2">
            The new key, shown once: <span class="mono font-semibold break-all">{{ issued }}</span>
          </p>
          <p v-if="fault" class="text-stop" role="alert">{{ fault }}</p>
          <AppButton v-if="!sure" small @click="sure = true">{{
            query.data.value.send.hasKey ? "Give it a new key" : "Give it a key"
          }}</AppButton>
          <span v-else class="flex flex-wrap items-center gap-2"
            ><span v-if="query.data.value.send.hasKey"
              >The old key ends at once; the node is silent until it has the new one.</span
            ><AppButton kind="grave" small @click="issue">Make the key</AppButton
            ><AppButton small @click="sure = false">Cancel</AppButton></span
          >
        </div>
      </section>
    </div>
  </AppDialog>
</template>
