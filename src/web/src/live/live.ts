/** Live updates of the open site: samples, revisions, episodes. One connection a page. */
import { HttpTransportType, HubConnectionBuilder, HubConnectionState, LogLevel } from "@microsoft/signalr";
import { useQueryClient } from "@tanstack/vue-query";
import { useThrottleFn } from "@vueuse/core";
import { onScopeDispose, reactive, ref, watch, type Reactive } from "vue";
import type { EpisodeView, LiveSample } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { say } from "@/kit/notices";

/** The newest samples by "node/key", as they arrive. */
export const newest: Reactive<Map<string, LiveSample>> = reactive(new Map());
export const connected = ref(false);
/** The least time between two times that listeners hear, ms. */
const drawEveryMs = 250;
type Listener = (samples: LiveSample[]) => void;
const listeners = new Set<Listener>();

/** Hears every sample of the open site until the scope ends. */
export function onSamples(listener: Listener) {
  listeners.add(listener);
  onScopeDispose(() => listeners.delete(listener));
}

let waiting: LiveSample[] = [];
const tell = useThrottleFn(
  () => {
    const samples = waiting;
    waiting = [];
    for (const s of samples) {
      const known = newest.get(`${s.node}/${s.key}`);
      if (!known || s.t >= known.t) newest.set(`${s.node}/${s.key}`, s);
    }
    for (const listener of listeners) listener(samples);
  },
  drawEveryMs,
  true,
);

/** Takes samples that came in, and tells who listens: a few times a second at most, however fast nodes send. */
export function tellSamples(samples: LiveSample[]) {
  waiting.push(...samples);
  void tell();
}

export function useLive(site: SiteContext) {
  const queries = useQueryClient();
  const connection = new HubConnectionBuilder()
    .withUrl("/live", { transport: HttpTransportType.WebSockets, skipNegotiation: true })
    .withAutomaticReconnect({ nextRetryDelayInMilliseconds: (c) => Math.min(1000 * 2 ** c.previousRetryCount, 15000) })
    .configureLogging(LogLevel.None)
    .build();
  newest.clear();
  waiting = [];
  connection.on("samples", (key: string, samples: LiveSample[]) => {
    if (key === site.key.value) tellSamples(samples);
  });
  /** Asks anew. A first answer that is under way may be older than the event, and is not asked for twice by itself: it is waited for, and asked again. */
  const renew = async (...queryKey: string[]) => {
    const early = queries
      .getQueryCache()
      .findAll({ queryKey })
      .some((q) => q.state.fetchStatus === "fetching" && q.state.data === undefined);
    await queries.invalidateQueries({ queryKey });
    if (early) await queries.invalidateQueries({ queryKey });
  };
  // While an edit of one's own is under way its answer is awaited: it brings the design itself.
  const latest = ref(0);
  connection.on("revision", (key: string, revision: number) => {
    if (key === site.key.value) latest.value = revision;
  });
  watch([latest, site.busy], ([revision, busy]) => {
    if (busy || !site.site.value || revision <= site.site.value.revision) return;
    void renew("site");
    void renew("readings");
  });
  connection.on("episode", (key: string, episode: EpisodeView) => {
    if (key !== site.key.value) return;
    void renew("episodes");
    // What is open is marked where it is drawn.
    void renew("readings");
    void renew("view-data");
    // One that is acknowledged or over withdraws what waited to be told of it.
    void renew("notices");
    if (episode.clearedMs === null && episode.acknowledgedMs === null) say(`Raised: ${episode.label}`, { bad: true });
  });
  connection.on("notices", () => {
    void renew("notices");
    void renew("episodes");
  });
  connection.on("zones", () => void renew("zones"));
  connection.on("outputs", () => void renew("outputs"));
  connection.on("scanned", () => void renew("scans"));
  connection.on("calibrated", () => {
    void renew("calibrations");
    void renew("readings");
  });
  connection.on("refused", () => void renew("messages"));
  connection.onreconnecting(() => (connected.value = false));
  connection.onclose(() => (connected.value = false));
  let joinedBefore = false;
  // From here on everything is told. What came since the first answer, or since the connection was lost, was told to nobody.
  connection.on("joined", () => {
    connected.value = true;
    if (joinedBefore) void queries.invalidateQueries();
    else for (const early of ["episodes", "readings"]) void renew(early);
    joinedBefore = true;
  });
  const start = async () => {
    try {
      await connection.start();
    } catch {
      if (connection.state === HubConnectionState.Disconnected && !stopped) setTimeout(() => void start(), 3000);
    }
  };
  let stopped = false;
  void start();
  onScopeDispose(() => {
    stopped = true;
    void connection.stop();
  });
}
