/** The open site: its design, its plan, the edits door and undo. One instance a page load, provided by the shell. */
import { useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, inject, provide, ref, type InjectionKey, type Ref } from "vue";
import {
  api,
  answer,
  sentence,
  type Catalogue,
  type DesignEdit,
  type Figure,
  type Finding,
  type NodeDesign,
  type SiteDesign,
} from "@/api/client";
import type { Fault } from "@/kit/faults";
import { say } from "@/kit/notices";
import { useSteps, type Step } from "./steps";

type Steps = ReturnType<typeof useSteps>;

/** What became of a batch: done, or the sentences that say why not. */
/** @property unsent True where nobody answered: it may be tried again. */
export type EditOutcome = { ok: true } | { ok: false; reasons: string[]; faults: Fault[]; unsent?: boolean };

/** A refusal: its sentences, each with the field that it is about. */
const refused = (reasons: string[], faults: Fault[] = []): Extract<EditOutcome, { ok: false }> => ({
  ok: false,
  reasons,
  faults: faults.length ? faults : reasons.map((says) => ({ says })),
});

/** What becomes of nothing to do. */
const unchanged: { outcome: EditOutcome; back?: Step } = { outcome: { ok: true } };

/** Tells each figure of a plan where it stands in it (RFC 6901), so that its working can be asked for. */
function addressFigures(part: unknown, at: string) {
  if (Array.isArray(part)) part.forEach((item, n) => addressFigures(item, `${at}/${n}`));
  else if (part && typeof part === "object") {
    if ("label" in part && "value" in part && "unit" in part) (part as Figure).at = at;
    else for (const [name, item] of Object.entries(part)) addressFigures(item, `${at}/${name}`);
  }
}

function create(key: Ref<string>) {
  const queries = useQueryClient();
  const site = useQuery({
    queryKey: ["site", key],
    queryFn: () => answer(api.GET("/api/sites/{site}", { params: { path: { site: key.value } } })),
  });
  async function fetchPlan() {
    const data = await answer(api.GET("/api/sites/{site}/plan", { params: { path: { site: key.value } } }));
    addressFigures(data.plan, "");
    return data;
  }
  const plan = useQuery({
    queryKey: ["plan", key, computed(() => site.data.value?.revision)],
    enabled: computed(() => site.data.value !== undefined),
    placeholderData: (old: Awaited<ReturnType<typeof fetchPlan>> | undefined) => old,
    staleTime: Infinity,
    queryFn: fetchPlan,
  });
  const catalogue = useQuery({
    queryKey: [
      "catalogue",
      key,
      computed(() => JSON.stringify([site.data.value?.design.ownBoards, site.data.value?.design.ownParts])),
    ],
    enabled: computed(() => site.data.value !== undefined),
    staleTime: Infinity,
    placeholderData: (old: Catalogue | undefined) => old,
    queryFn: () => answer(api.GET("/api/sites/{site}/catalogue", { params: { path: { site: key.value } } })),
  });
  const undos = useSteps("undo", key);
  const redos = useSteps("redo", key);
  const busy = ref(false);
  const canWrite = computed(() => site.data.value !== undefined && site.data.value.role !== "viewer");

  /** Acknowledge and arm: also a viewer whom an owner lets. */
  const canAct = computed(() => site.data.value?.mayAct ?? false);

  /** One after the other, in the order in which they were asked for. */
  let turn: Promise<unknown> = Promise.resolve();
  function inTurn<T>(act: () => Promise<T>): Promise<T> {
    const mine = turn.then(act);
    turn = mine.catch(() => undefined);
    return mine;
  }

  async function send(step: Step): Promise<{ outcome: EditOutcome; back?: Step }> {
    busy.value = true;
    try {
      const path = { params: { path: { site: key.value } }, body: { revision: step.revision, edits: step.edits } };
      const { data, error } = await api.POST("/api/sites/{site}/edits", path);
      if (data) {
        // The answer holds the new design: only its plan is asked for.
        const { revision, design } = data;
        queries.setQueryData<typeof site.data.value>(["site", key.value], (old) => old && { ...old, revision, design });
        void queries.invalidateQueries({ queryKey: ["readings"] });
      }
      if (!data)
        return { outcome: error && "reasons" in error ? refused(error.reasons, error.faults) : refused([sentence(error)]) };
      return {
        outcome: { ok: true },
        back: { label: step.label, revision: data.revision, base: data.revision - 1, edits: data.inverse },
      };
    } catch {
      // Nobody answered: what was to be done may be tried again.
      return { outcome: { ...refused([sentence(undefined)]), unsent: true } };
    } finally {
      busy.value = false;
    }
  }

  /**
   * Carries out edits, or what is made of the design as it is by then; the label names them for undo. Quiet leaves the telling to the caller, who shows the
   * reasons beside the field.
   */
  async function apply(
    label: string,
    edits: DesignEdit[] | ((design: SiteDesign) => DesignEdit[]),
    quiet = false,
  ): Promise<EditOutcome> {
    if (!site.data.value) return refused(["The site is not loaded yet."]);
    const { outcome, back } = await inTurn(async () => {
      // What this page changed just before is no change by another.
      const { revision, design } = queries.getQueryData<typeof site.data.value>(["site", key.value])!;
      const wanted = Array.isArray(edits) ? edits : edits(design);
      return wanted.length ? send({ label, revision, base: revision, edits: wanted }) : unchanged;
    });
    if (back) {
      undos.add(back);
      redos.clear();
      if (!quiet) say(label, { undo: true });
    } else if (!outcome.ok && !quiet) say(outcome.reasons.join(" "), { bad: true });
    return outcome;
  }

  async function step(from: Steps, to: Steps, word: string) {
    const last = from.steps.value.at(-1);
    if (!last) return;
    const { outcome, back } = await send(last);
    if (outcome.ok || !outcome.unsent) from.drop(last);
    if (back) {
      // What stood right before this step stands again: the step below is as good on the new revision as it was then.
      const below = from.steps.value.at(-1);
      if (below?.revision === last.base) below.revision = back.revision;
      to.add(back);
      say(`${word}: ${last.label}`);
    } else if (!outcome.ok) say(`Not ${word.toLowerCase()}: ${outcome.reasons.join(" ")}`, { bad: true });
  }

  return {
    key,
    site: site.data,
    loading: computed(() => site.isPending.value),
    failed: computed(() => site.error.value?.message),
    design: computed(() => site.data.value?.design),
    revision: computed(() => site.data.value?.revision),
    /** What forms start from where the design says nothing. */
    usual: computed(() => site.data.value!.usual),
    plan: computed(() => plan.data.value?.plan),
    /** Changes when the plan does. */
    planStamp: plan.dataUpdatedAt,
    planning: plan.isFetching,
    catalogue: catalogue.data,
    canWrite,
    canAct,
    busy,
    undos: undos.steps,
    redos: redos.steps,
    apply,
    // Each press is a step, also one that comes while the step before is under way.
    undo: () => inTurn(() => step(undos, redos, "Undone")),
    redo: () => inTurn(() => step(redos, undos, "Redone")),
    findings: (station: string, node?: string): Finding[] =>
      (plan.data.value?.plan.findings ?? []).filter(
        (f) => f.subject.station === station && (!node || !f.subject.node || f.subject.node === node),
      ),
    node: (node?: string): NodeDesign | undefined => site.data.value?.design.nodes.find((n) => n.key === node),
    nodePlan: (node?: string) => plan.data.value?.plan.nodes.find((n) => n.node === node),
  };
}

export type SiteContext = ReturnType<typeof create>;
const contextKey: InjectionKey<SiteContext> = Symbol("site");

export function provideSite(key: Ref<string>): SiteContext {
  const context = create(key);
  provide(contextKey, context);
  return context;
}

export function useSite(): SiteContext {
  const context = inject(contextKey);
  if (!context) throw new Error("No site is open here.");
  return context;
}

/** A key that is free among others, made of a name. */
export function keyFrom(name: string, taken: string[]): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^[^a-z]+|-+$/g, "")
      .slice(0, 24) || "item";
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}-${n}`;
    if (!taken.includes(key)) return key;
  }
}
