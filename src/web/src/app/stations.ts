/** The stations, in the order of work: the rail, the routes and the shortcuts follow this list. */
import type { Component } from "vue";

export interface Station {
  key: string;
  number: number;
  name: string;
  asks: string;
  page: () => Promise<Component>;
}

/** The address of a station; it keeps the node in hand where the station has one. */
export function stationPath(site: string, station: string, node?: string | string[]): string {
  const keeps = node && ["bench", "rhythm", "bring-up"].includes(station);
  return `/${site}/${station}${keeps ? `/${String(node)}` : ""}`;
}

export const stations: Station[] = [
  {
    key: "place",
    number: 1,
    name: "Place",
    asks: "What do I want to know, and where?",
    page: () => import("@/stations/place/PlacePage.vue"),
  },
  {
    key: "bench",
    number: 2,
    name: "Bench",
    asks: "Which pin for what, and will the supply hold?",
    page: () => import("@/stations/bench/BenchPage.vue"),
  },
  {
    key: "rhythm",
    number: 3,
    name: "Rhythm",
    asks: "How often, and how long on a battery?",
    page: () => import("@/stations/rhythm/RhythmPage.vue"),
  },
  { key: "reach", number: 4, name: "Reach", asks: "Will it get through?", page: () => import("@/stations/reach/ReachPage.vue") },
  {
    key: "bring-up",
    number: 5,
    name: "Bring-up",
    asks: "Is what I soldered what I planned?",
    page: () => import("@/stations/bringup/BringUpPage.vue"),
  },
  { key: "watch", number: 6, name: "Watch", asks: "What is going on?", page: () => import("@/stations/watch/WatchPage.vue") },
  {
    key: "alerts",
    number: 7,
    name: "Alerts",
    asks: "When do I want to be told?",
    page: () => import("@/stations/alerts/AlertsPage.vue"),
  },
  {
    key: "log",
    number: 8,
    name: "Log",
    asks: "What did I do, and was I right?",
    page: () => import("@/stations/log/LogPage.vue"),
  },
];
