/** A rule as the sentence a person reads. */
import type { ActDesign, RuleDesign } from "@/api/client";
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
  const of = `Tell me when ${reading} (${node?.label ?? rule.node})`;
  const c = rule.condition;
  const unit = unitOf(site, rule.node, rule.reading);
  const with_ = (value: number) => `${value} ${unit}`.trim();
  const lasting = (ms: number) => (ms > 0 ? ` for ${duration(ms)}` : "");
  switch (c.kind) {
    case "silentFor":
      return `${of} is silent for ${duration(c.forMs)}.`;
    case "outsideBand":
      return `${of} is outside ${c.low} to ${with_(c.high)}${lasting(c.forMs)}; it is over ${c.clearBy > 0 ? `${with_(c.clearBy)} inside` : "when it is back inside"}.`;
    case "inARow":
      return `${of} is ${c.side} ${with_(c.limit)} ${c.times} times in a row; it is over at ${with_(c.clear)}.`;
    case "changesFaster":
      return `${of} ${c.side} by ${with_(c.by)} within ${duration(c.withinMs)}; it is over below half of that.`;
    case "eventsWithin":
      return `${of} goes on ${c.count} times within ${duration(c.withinMs)}.`;
    default:
      return `${of} is ${c.side} ${with_(c.limit)}${lasting(c.forMs)}; it is over at ${with_(c.clear)}.`;
  }
}

/** What a rule does to an output. */
export function actSentence(a: ActDesign, site: SiteContext): string {
  const node = site.node(a.node);
  const name = `${node?.readings.find((r) => r.key === a.output)?.label ?? a.output} (${node?.label ?? a.node})`;
  return a.while === "calm"
    ? `Permits ${name} while all is well and heard.`
    : `Switches ${name} on${a.forMs ? ` for ${duration(a.forMs)} at most` : ""}.`;
}
