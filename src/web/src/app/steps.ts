/** What can be undone and redone, kept with the tab: a reload loses none of it, and each site has its own. */
import { useSessionStorage } from "@vueuse/core";
import type { Ref } from "vue";
import type { DesignEdit } from "@/api/client";

/** Edits that lead back, good on a revision; `base` is the revision before the step was carried out. */
export interface Step {
  label: string;
  revision: number;
  base: number;
  edits: DesignEdit[];
}

/** Older ones go. */
const MOST = 50;
const prefix = "cenotic-steps";

/** The steps of a site, the newest last. Where the tab has no room for them they last until it is reloaded. */
export function useSteps(name: "undo" | "redo", site: Ref<string>) {
  const steps = useSessionStorage<Step[]>(() => `${prefix}-${name}-${site.value}`, [], { onError: () => undefined });
  const add = (step: Step) => (steps.value = [...steps.value, step].slice(-MOST));
  const drop = (step: Step) => (steps.value = steps.value.filter((s) => s !== step));
  const clear = () => (steps.value = []);
  return { steps, add, drop, clear };
}

/** Who signs in after this one undoes nothing of theirs. */
export function forgetSteps() {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(prefix)) sessionStorage.removeItem(key);
}
