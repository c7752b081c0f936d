<script setup lang="ts">
/** A view for who came by its link: no sign-in, no switches. */
import { HttpTransportType, HubConnectionBuilder, LogLevel } from "@microsoft/signalr";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/vue-query";
import { useIntervalFn } from "@vueuse/core";
import { computed, onScopeDispose, ref } from "vue";
import { api, answer, sentence, type LiveSample, type ReadingView } from "@/api/client";
import SeverityMark from "@/kit/SeverityMark.vue";
import { newest, tellSamples } from "@/live/live";
import { provideBoard } from "./board";
import { useRange } from "./range";
import RangeBar from "./RangeBar.vue";
import TileBoard from "./TileBoard.vue";

const queries = useQueryClient();
const failed = ref("");
const ready = ref(false);
const connected = ref(false);
const now = ref(Date.now());
let base = { site: Date.now(), here: Date.now(), speed: 1 };
const view = useQuery({
  queryKey: ["shared"],
  enabled: ready,
  retry: false,
  queryFn: async () => {
    const { data, error, response } = await api.GET("/api/shared/view");
    if (!data) throw new Error(response.status === 401 ? "This link holds no more, or was not copied whole." : sentence(error));
    base = { site: data.nowMs, here: Date.now(), speed: data.speed };
    return data;
  },
});
useIntervalFn(() => (now.value = base.site + (Date.now() - base.here) * base.speed), 1000);
const range = useRange(now);
const data = useQuery({
  queryKey: ["shared-data", range.stretch],
  enabled: computed(() => !!view.data.value),
  placeholderData: keepPreviousData,
  gcTime: 30_000,
  queryFn: async () => {
    const { from, to } = range.stretch.value;
    return answer(
      api.GET("/api/shared/data", {
        params: { query: { from: Math.round(from), to: Math.round(to), points: 600 } },
      }),
    );
  },
});
const zone = computed(() => view.data.value?.timeZone ?? "UTC");
provideBoard({
  zone,
  now,
  readings: computed<ReadingView[]>(() =>
    (data.data.value?.readings ?? []).map((r) => {
      const sample = newest.get(`${r.node}/${r.key}`);
      return sample && (!r.newest || sample.t >= r.newest.t) ? { ...r, newest: sample } : r;
    }),
  ),
  rooms: computed(() => view.data.value?.rooms ?? []),
  floors: computed(() => view.data.value?.floors ?? []),
  spots: computed(() => view.data.value?.spots ?? []),
  stretch: range.stretch,
  look: range.look,
});
const fault = computed(() => failed.value || view.error.value?.message || (data.error.value ? "This link holds no more." : ""));

/** The secret stands behind the #: it goes to the server once, for a cookie, and out of the address. */
async function open() {
  const token = location.hash.slice(1);
  if (token) {
    history.replaceState(history.state, "", location.pathname + location.search);
    const { error, response } = await api.POST("/api/shared", { body: { token } });
    if (!response.ok) {
      failed.value = sentence(error);
      return;
    }
  }
  ready.value = true;
  const connection = new HubConnectionBuilder()
    .withUrl("/live", { transport: HttpTransportType.WebSockets, skipNegotiation: true })
    .configureLogging(LogLevel.None)
    .build();
  connection.on("samples", (_: string, samples: LiveSample[]) => tellSamples(samples));
  // What came between the first answer and this was told to nobody.
  connection.on("joined", () => {
    connected.value = true;
    void queries.invalidateQueries();
  });
  connection.onclose(() => {
    connected.value = false;
    // Ended from the other side: what the server says now is what holds.
    void queries.invalidateQueries();
    startAgain();
  });
  const start = () => connection.start().catch(startAgain);
  const startAgain = () => {
    if (!stopped) setTimeout(() => void start(), 5000);
  };
  let stopped = false;
  onStop = () => {
    stopped = true;
    void connection.stop();
  };
  await start();
}
let onStop = () => {};
void open();
onScopeDispose(() => onStop());
</script>

<template>
  <main class="min-h-screen p-3 md:p-5">
    <p v-if="fault" role="alert" class="max-w-prose">{{ fault }}</p>
    <template v-else-if="view.data.value">
      <header class="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 class="text-2xl font-semibold">{{ view.data.value.view.label }}</h1>
        <span class="text-faint">{{ view.data.value.siteName }}</span>
        <span class="text-sm" role="status"
          ><SeverityMark :severity="connected ? 'fine' : 'risk'" />
          {{ connected ? "live" : "not connected: figures stand still" }}</span
        >
      </header>
      <RangeBar class="mb-3" :range="range" :zone="zone" />
      <TileBoard :view="view.data.value.view" :data="data.data.value" />
    </template>
    <p v-else class="text-faint" role="status">Opening the view…</p>
  </main>
</template>
