/** The readings that a rule may ask for: what is measured and worked out, and what nodes show by themselves. */
import { computed } from "vue";
import type { SiteContext } from "@/app/site";
import { derivedNode, useDerivedChoices } from "@/stations/watch/derived";
import { refOf, useNames, type Names } from "@/stations/watch/names";

export function useRuleReadings(site: SiteContext) {
  const known = useNames(site);
  const choices = useDerivedChoices(site);
  /** What nodes show by themselves is a reading once a rule asks for it. */
  const offered = computed(() => choices.value?.ofNodes ?? []);
  const offer = (id: string) => offered.value.find((o) => `${derivedNode}/${o.derived.key}` === id);
  const names: Names = {
    ...known,
    label: (node, key) => offer(`${node}/${key}`)?.derived.label ?? known.label(node, key),
    unit: (node, key) => offer(`${node}/${key}`)?.unit ?? known.unit(node, key),
  };
  const readings = computed(() => [
    ...known.readings.value.map((r) => ({ value: `${r.node}/${r.key}`, label: `${r.label} (${r.nodeLabel})` })),
    ...offered.value.map((o) => ({ value: `${derivedNode}/${o.derived.key}`, label: o.derived.label })),
  ]);
  const events = computed(() => known.readings.value.filter((r) => r.kind === "state" || r.kind === "event"));

  /** By the catalogue, so that it is known before the readings are. */
  function isState(id: string) {
    const { node, reading } = refOf(id);
    if (node === derivedNode) return site.design.value?.derived?.find((d) => d.key === reading)?.from.kind === "presence";
    const design = site.node(node);
    const r = design?.readings.find((x) => x.key === reading);
    const part = site.catalogue.value?.parts.find((p) => p.id === design?.parts.find((x) => x.key === r?.part)?.part);
    const kind = part?.quantities.find((q) => q.quantity === r?.quantity)?.kind;
    return kind === "state" || kind === "event";
  }

  return {
    names,
    readings,
    events,
    /** The reading that is made when a rule asks for it; nothing for one that stands. */
    made: (id: string) => offer(id)?.derived,
    isState,
    isContact: (id: string) => known.of(refOf(id).node, refOf(id).reading)?.restsOn === true,
  };
}
