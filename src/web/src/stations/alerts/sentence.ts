/** A rule as the sentence a person reads. */
import type { RuleDesign } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { duration } from "@/kit/format";

/** The unit that a reading is shown in. */
export function unitOf(site: SiteContext, node: string, reading: string): string {
  const design = site.node(node);
  const r = design?.readings.find((i) => i.key === reading);
  const part = design?.parts.find((p) => p.key === r?.part)?.part;
  return site.catalogue.value?.parts.find((p) => p.id === part)?.quantities.find((q) => q.quantity === r?.quantity)?.unit ?? "";
}

export function ruleSentence(rule: RuleDesign, site: SiteContext): string {
  const node = site.node(rule.node);
  const reading = node?.readings.find((r) => r.key === rule.reading)?.label ?? rule.reading;
  const where = node?.label ?? rule.node;
  const c = rule.condition;
  if (c.kind === "silentFor") return `Tell me when ${reading} (${where}) is silent for ${duration(c.forMs)}.`;
  const unit = unitOf(site, rule.node, rule.reading);
  const lasting = c.forMs > 0 ? ` for ${duration(c.forMs)}` : "";
  return `Tell me when ${reading} (${where}) is ${c.side} ${c.limit} ${unit}${lasting}; it is over at ${c.clear} ${unit}.`;
}
