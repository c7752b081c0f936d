/** The wire in hand: what every pin could do for it, and the edits that hold it. */
import { useQuery } from "@tanstack/vue-query";
import { computed, markRaw, ref, watch, type Ref } from "vue";
import { api, sentence, type BenchPlan, type NodeDesign, type PlannedWire } from "@/api/client";
import { useMargin } from "@/app/margin";
import { useSite } from "@/app/site";
import WireNote from "./WireNote.vue";

export interface ChosenWire {
  part: string;
  line: string;
}

export function useWires(node: Ref<NodeDesign | undefined>, plan: Ref<BenchPlan | undefined>) {
  const site = useSite();
  const { show, note, close } = useMargin();
  const chosen = ref<ChosenWire>();
  const wire = computed(() => plan.value?.wires.find((w) => w.part === chosen.value?.part && w.line === chosen.value?.line));
  const query = useQuery({
    queryKey: ["pins", site.key, computed(() => node.value?.key), chosen, computed(() => site.site.value?.revision)],
    enabled: computed(() => chosen.value !== undefined && node.value !== undefined),
    placeholderData: (old) => old,
    queryFn: async () => {
      const { data, error } = await api.GET("/api/sites/{site}/nodes/{node}/pins", {
        params: { path: { site: site.key.value, node: node.value!.key }, query: chosen.value! },
      });
      if (!data) throw new Error(sentence(error));
      return data;
    },
  });
  const choices = computed(() => (chosen.value ? query.data.value : undefined));

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
  async function hold(w: PlannedWire, pin: string, how: "locked" | "soldered") {
    const word = how === "soldered" ? "soldered" : "fixed";
    await site.apply(`${w.partLabel} ${w.line} ${word} at ${pin}`, [
      { kind: "putWire", node: node.value!.key, wire: { part: w.part, line: w.line, pin, hold: how } },
    ]);
  }

  async function release(w: PlannedWire) {
    await site.apply(`${w.partLabel} ${w.line} is free again`, [
      { kind: "removeWire", node: node.value!.key, part: w.part, line: w.line },
    ]);
  }

  const choose = (w: PlannedWire) => (chosen.value = { part: w.part, line: w.line });

  return { chosen, wire, choices, choose, hold, release };
}

export type Wires = ReturnType<typeof useWires>;
