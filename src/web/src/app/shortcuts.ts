/** Single-key shortcuts: off while typing or in a dialog, and they can be switched off. Ctrl/Cmd+Z always undoes. */
import { useEventListener, useStorage } from "@vueuse/core";
import { useRoute, useRouter } from "vue-router";
import type { SiteContext } from "./site";
import { stationPath, stations } from "./stations";

export const shortcutsOn = useStorage("cenotic-shortcuts", true);

export function useShortcuts(what: { context: SiteContext; find: () => void; list: () => void }) {
  const route = useRoute();
  const router = useRouter();
  useEventListener(document, "keydown", (e: KeyboardEvent) => {
    const target = e.target as HTMLElement;
    const typing = /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable;
    if (typing || document.querySelector("[role=dialog],[role=listbox]")) return;
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") {
      e.preventDefault();
      void (e.shiftKey ? what.context.redo() : what.context.undo());
      return;
    }
    if (!shortcutsOn.value || e.ctrlKey || e.metaKey || e.altKey) return;
    const station = stations.find((s) => String(s.number) === e.key);
    if (station) void router.push(stationPath(String(route.params.site), station.key, route.params.node));
    else if (e.key === "/") what.find();
    else if (e.key === "?") what.list();
    else if (e.key === "z") void what.context.undo();
    else if (e.key === "Z") void what.context.redo();
    else if (e.key === "n") document.querySelector<HTMLElement>("[data-new]")?.click();
    else return;
    e.preventDefault();
  });
}
