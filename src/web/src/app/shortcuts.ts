/** Single-key shortcuts: off while typing or in a dialog, and they can be switched off. Ctrl/Cmd+Z always undoes. */
import { useEventListener, useStorage } from "@vueuse/core";
import { useRoute, useRouter } from "vue-router";
import type { SiteContext } from "./site";
import { stationPath, stations } from "./stations";

export const shortcutsOn = useStorage("cenotic-shortcuts", true);

export function useShortcuts(what: { context: SiteContext; find: () => void; list: () => void }) {
  const route = useRoute();
  const router = useRouter();
  /** A key that is held down goes on as fast as its steps are done. */
  function step(e: KeyboardEvent, forward: boolean) {
    if (e.repeat && what.context.busy.value) return;
    void (forward ? what.context.redo() : what.context.undo());
  }
  useEventListener(document, "keydown", (e: KeyboardEvent) => {
    const target = e.target as HTMLElement;
    const typing = /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable;
    if (typing || document.querySelector("[role=dialog],[role=listbox]")) return;
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") {
      e.preventDefault();
      step(e, e.shiftKey);
      return;
    }
    if (!shortcutsOn.value || e.ctrlKey || e.metaKey || e.altKey) return;
    const station = stations.find((s) => String(s.number) === e.key);
    if (station) void router.push(stationPath(String(route.params.site), station.key, route.params.node));
    else if (e.key === "/") what.find();
    else if (e.key === "?") what.list();
    else if (e.key === "z") step(e, false);
    else if (e.key === "Z") step(e, true);
    else if (e.key === "n") document.querySelector<HTMLElement>("[data-new]")?.click();
    else return;
    e.preventDefault();
  });
}
