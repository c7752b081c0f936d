/** The wire in hand: what every pin could do for it, and the edits that hold it. */
import { useQuery } from "@tanstack/vue-query";
import { computed, markRaw, ref, watch, type Ref } from "vue";
import { api, answer, type BenchPlan, type NodeDesign, type PlannedLine, type WireTrial } from "@/api/client";
import { useMargin } from "@/app/margin";
import { useSite } from "@/app/site";
import { useWireDrag, type ChosenWire } from "./wire-drag";
import WireNote from "./WireNote.vue";

const parts: { key: keyof WireTrial["now"]; one: string; many: string }[] = [
  { key: "movedWires", one: "soldered wire to move", many: "soldered wires to move" },
  { key: "components", one: "more component", many: "more components" },
  { key: "hazardPoints", one: "hazard point more", many: "hazard points more" },
  { key: "splices", one: "splice more", many: "splices more" },
  { key: "versatility", one: "point of a pin that others need more", many: "points of pins that others need more" },
  { key: "distance", one: "half row longer", many: "half rows longer" },
];

/** A trial in one sentence: why not, or what it costs and who has to make room. */
export function trialText(t: WireTrial): { fits: boolean; text: string } {
  if (!t.fits) return { fits: false, text: t.refusals.join(" ") };
  const costs = parts
    .map((p) => ({ ...p, by: Number(t.then[p.key]) - Number(t.now[p.key]) }))
    .filter((p) => p.by > 0)
    .map((p) => `${p.by} ${p.by === 1 ? p.one : p.many}`);
  const moves = t.moves.map((m) => `${m.wire}${m.soldered ? ", which is soldered," : ""} goes from ${m.from} to ${m.to}`);
  return {
    fits: true,
    text: [costs.length ? `Costs ${costs.join(", ")}.` : "Costs nothing more.", ...moves.map((m) => m + ".")].join(" "),
  };
}

export function useWires(node: Ref<NodeDesign | undefined>, plan: Ref<BenchPlan | undefined>) {
  const site = useSite();
  const { show, note, close } = useMargin();
  const chosen = ref<ChosenWire>();
  const wire = computed(() => plan.value?.lines.find((l) => l.part === chosen.value?.part && l.line === chosen.value.line));
  const query = useQuery({
    queryKey: ["pins", site.key, computed(() => node.value?.key), chosen, computed(() => site.site.value?.revision)],
    enabled: computed(() => chosen.value !== undefined && node.value !== undefined),
    placeholderData: (old) => old,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/nodes/{node}/pins", {
          params: { path: { site: site.key.value, node: node.value!.key }, query: chosen.value! },
        }),
      ),
  });
  const choices = computed(() => (chosen.value ? query.data.value : undefined));

  /** The pin a wire is held over while it is dragged, and what holding it there would mean. */
  const over = ref<string>();
  const trialQuery = useQuery({
    queryKey: ["trial", site.key, computed(() => node.value?.key), chosen, over, computed(() => site.site.value?.revision)],
    enabled: computed(() => !!over.value && !!chosen.value && !!node.value),
    staleTime: Infinity,
    queryFn: () =>
      answer(
        api.GET("/api/sites/{site}/nodes/{node}/trial", {
          params: { path: { site: site.key.value, node: node.value!.key }, query: { ...chosen.value!, pin: over.value! } },
        }),
      ),
  });
  const trial = computed(() =>
    over.value && chosen.value && trialQuery.data.value ? trialText(trialQuery.data.value) : undefined,
  );
  const tryAt = (pin: string | undefined) => {
    if (pin !== over.value) over.value = pin;
  };

  watch(
    () => node.value?.key,
    () => {
      chosen.value = undefined;
      if (note.value?.component) close();
    },
  );
  watch([chosen, wire, choices], () => {
    if (chosen.value && wire.value && choices.value) {
      const props = { wire: wire.value, choices: choices.value, node: node.value, hold, release };
      show(`${wire.value.partLabel} ${wire.value.line}`, markRaw(WireNote), props);
    }
  });

  /** Fixes or solders a wire at a pin. */
  async function hold(w: PlannedLine, pin: string, how: "locked" | "soldered") {
    const word = how === "soldered" ? "soldered" : "fixed";
    const printed = site.catalogue.value?.boards.find((b) => b.id === node.value?.board)?.pins.find((p) => p.id === pin)?.label;
    await site.apply(`${w.partLabel} ${w.line} ${word} at ${printed ?? pin.replace(":", " ")}`, [
      {
        kind: "putWire",
        node: node.value!.key,
        wire: { part: w.part, line: w.line, pin, hold: how, colour: how === "soldered" ? w.colour : null },
      },
    ]);
  }

  async function release(w: PlannedLine) {
    await site.apply(`${w.partLabel} ${w.line} is free again`, [
      { kind: "removeWire", node: node.value!.key, part: w.part, line: w.line },
    ]);
  }

  const choose = (w: ChosenWire) => (chosen.value = { part: w.part, line: w.line });
  const drag = useWireDrag({
    lift: choose,
    over: tryAt,
    drop: async (line, pin) => {
      const held = plan.value?.lines.find((l) => l.part === line.part && l.line === line.line);
      if (held) await hold(held, pin, "locked");
    },
  });

  return { chosen, wire, choices, choose, hold, release, over, trial, drag };
}

export type Wires = ReturnType<typeof useWires>;
