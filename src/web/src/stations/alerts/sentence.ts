/** A rule as the sentence a person reads. */
import type { ActDesign, RuleCondition, RuleDesign, RulePart } from "@/api/client";
import type { SiteContext } from "@/app/site";
import { exactDuration } from "@/kit/format";
import { isSwitch } from "./condition";
import type { Names } from "@/stations/watch/names";

/** What a condition says of its reading, and when it is over. */
function says(c: RuleCondition, unit: string, state: boolean, names: Names): [string, string] {
  const with_ = (value: number) => `${value} ${unit}`.trim();
  const lasting = (ms: number) => (ms > 0 ? ` for ${exactDuration(ms)}` : "");
  switch (c.kind) {
    case "silentFor":
      return [`is silent for ${exactDuration(c.forMs)}`, ""];
    case "outsideBand":
      return [
        `is outside ${c.low} to ${with_(c.high)}${lasting(c.forMs)}`,
        c.clearBy > 0 ? `${with_(c.clearBy)} inside` : "when it is back inside",
      ];
    case "inARow":
      return [`is ${c.side} ${with_(c.limit)} ${c.times} times in a row`, `at ${with_(c.clear)}`];
    case "changesFaster":
      return [`${c.side} by ${with_(c.by)} within ${exactDuration(c.withinMs)}`, "below half of that"];
    case "eventsWithin":
      return [`goes on ${c.count} times within ${exactDuration(c.withinMs)}`, ""];
    case "unlikeUsual":
      return [
        `is ${c.by > 0 ? `${with_(c.by)} ` : ""}beyond what is usual at this hour of this weekday${lasting(c.forMs)}`,
        "when it is usual again",
      ];
    case "inSequence": {
      const other = names.label(c.other.node, c.other.reading);
      const within = `within ${exactDuration(c.withinMs)}`;
      const order = c.inOrder ? ", in that order" : "";
      if (c.outcome === "both") return [`comes together with ${other} ${within}${order}`, ""];
      return c.outcome === "firstAlone"
        ? [`comes without ${other} ${within}${order}`, ""]
        : [`is missing ${within} of ${other}${order}`, ""];
    }
    default:
      if (state && isSwitch(c)) return [`is ${c.side === "above" ? "on" : "off"}${lasting(c.forMs)}`, ""];
      return [`is ${c.side} ${with_(c.limit)}${lasting(c.forMs)}`, `at ${with_(c.clear)}`];
  }
}

export function ruleSentence(rule: RuleDesign, names: Names): string {
  const parts: RulePart[] = [
    { reading: { node: rule.node, reading: rule.reading }, condition: rule.condition },
    ...(rule.also ?? []),
  ];
  const said = parts.map(({ reading: r, condition }) => {
    const [what, over] = says(condition, names.unit(r.node, r.reading), names.isState(r.node, r.reading), names);
    return { what: `${names.label(r.node, r.reading)} ${what}`, over };
  });
  if (said.length === 1) return `Tell me when ${said[0]!.what}${said[0]!.over ? `; it is over ${said[0]!.over}` : ""}.`;
  const any = rule.join === "any";
  return `Tell me when ${said.map((s) => s.what + (s.over ? ` (over ${s.over})` : "")).join(any ? ", or " : ", and ")}.`;
}

/** What a rule does to an output. */
export function actSentence(a: ActDesign, site: SiteContext): string {
  const node = site.node(a.node);
  const name = `${node?.readings.find((r) => r.key === a.output)?.label ?? a.output} (${node?.label ?? a.node})`;
  return a.while === "calm"
    ? `Permits ${name} while all is well and heard.`
    : `Switches ${name} on${a.forMs ? ` for ${exactDuration(a.forMs)} at most` : ""}.`;
}
