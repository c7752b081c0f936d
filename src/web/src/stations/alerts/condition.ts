/** What a rule watches for, as the fields of a form, and back. */
import type { RuleCondition } from "@/api/client";
import { idOf, refOf } from "@/stations/watch/names";
import { exactDuration, parseDuration } from "@/kit/format";
import { noTime } from "@/kit/faults";

export type What =
  | "above"
  | "below"
  | "outside"
  | "rises"
  | "falls"
  | "unlike"
  | "on"
  | "off"
  | "events"
  | "both"
  | "firstAlone"
  | "secondAlone"
  | "silent";
const ofLevels: { value: What; label: string }[] = [
  { value: "above", label: "is above" },
  { value: "below", label: "is below" },
  { value: "outside", label: "is outside" },
  { value: "rises", label: "rises by" },
  { value: "falls", label: "falls by" },
  { value: "unlike", label: "is unlike its usual by" },
  { value: "silent", label: "is silent" },
];
const ofStates: { value: What; label: string }[] = [
  { value: "on", label: "is on" },
  { value: "off", label: "is off" },
  { value: "events", label: "goes on, times" },
  { value: "both", label: "comes together with" },
  { value: "firstAlone", label: "comes without" },
  { value: "secondAlone", label: "is missing beside" },
  { value: "silent", label: "is silent" },
];
/** What a reading can do: a level moves, a state goes on and off. */
export const whatsOf = (isState: boolean) => (isState ? ofStates : ofLevels);
/** Kinds that take two events together. */
export const isSequence = (what: What) => what === "both" || what === "firstAlone" || what === "secondAlone";
/** A limit between off and on says no more than on or off. */
export const isSwitch = (c: { limit: number }) => c.limit >= 0 && c.limit < 1;

export interface ConditionForm {
  what: What;
  /** Limit, low end, change or count. */
  first: number | "" | undefined;
  /** Clearing level, or high end. */
  second: number | "" | undefined;
  /** How far inside a band it is over. */
  inside: number | "" | undefined;
  /** Values in a row. */
  times: number | "" | undefined;
  lasting: string;
  /** The other reading of a sequence, "node/key". */
  other: string;
  /** The other must not come first. */
  inOrder: boolean;
}

export function formOf(c: RuleCondition | undefined, isState = false): ConditionForm {
  const form: ConditionForm = {
    what: whatsOf(isState)[0]!.value,
    first: undefined,
    second: undefined,
    inside: 0,
    times: 1,
    lasting: "0 s",
    other: "",
    inOrder: false,
  };
  switch (c?.kind) {
    case "beyondLimit":
      if (isState && isSwitch(c)) return { ...form, what: c.side === "above" ? "on" : "off", lasting: exactDuration(c.forMs) };
      return { ...form, what: c.side, first: c.limit, second: c.clear, lasting: exactDuration(c.forMs) };
    case "inARow":
      return { ...form, what: c.side, first: c.limit, second: c.clear, times: c.times };
    case "outsideBand":
      return { ...form, what: "outside", first: c.low, second: c.high, inside: c.clearBy, lasting: exactDuration(c.forMs) };
    case "changesFaster":
      return { ...form, what: c.side, first: c.by, lasting: exactDuration(c.withinMs) };
    case "eventsWithin":
      return { ...form, what: "events", first: c.count, lasting: exactDuration(c.withinMs) };
    case "silentFor":
      return { ...form, what: "silent", lasting: exactDuration(c.forMs) };
    case "unlikeUsual":
      return { ...form, what: "unlike", first: c.by, lasting: exactDuration(c.forMs) };
    case "inSequence":
      return { ...form, what: c.outcome, other: idOf(c.other), inOrder: c.inOrder, lasting: exactDuration(c.withinMs) };
    default:
      return form;
  }
}

const isNumber = (v: unknown): v is number => typeof v === "number" && Number.isFinite(v);

/** The condition, or what is missing by field. A contact is closed at rest: it happens as it opens. */
export function conditionOf(
  f: ConditionForm,
  isContact: (reading: string) => boolean,
  own: string,
): { made?: RuleCondition; faults: Record<string, string> } {
  const faults: Record<string, string> = {};
  const ms = parseDuration(f.lasting);
  if (ms === undefined) faults.lasting = noTime(f.lasting).says;
  if (isSequence(f.what) && !f.other) faults.other = "Choose the other reading.";
  const wordless = f.what === "silent" || f.what === "on" || f.what === "off" || isSequence(f.what);
  if (!wordless && !isNumber(f.first)) faults.first = "Write it as a number.";
  if (f.what === "outside" && !isNumber(f.second)) faults.second = "Write the high end as a number.";
  if (Object.keys(faults).length || ms === undefined) return { faults };
  const first = f.first as number;
  switch (f.what) {
    case "silent":
      return { faults, made: { kind: "silentFor", forMs: ms } };
    case "on":
    case "off":
      return {
        faults,
        made: { kind: "beyondLimit", side: f.what === "on" ? "above" : "below", limit: 0.5, clear: 0.5, forMs: ms },
      };
    case "outside":
      return {
        faults,
        made: {
          kind: "outsideBand",
          low: first,
          high: f.second as number,
          clearBy: isNumber(f.inside) ? f.inside : 0,
          forMs: ms,
        },
      };
    case "rises":
    case "falls":
      return { faults, made: { kind: "changesFaster", side: f.what, by: first, withinMs: ms } };
    case "unlike":
      return { faults, made: { kind: "unlikeUsual", by: first, forMs: ms } };
    case "both":
    case "firstAlone":
    case "secondAlone":
      return {
        faults,
        made: {
          kind: "inSequence",
          other: refOf(f.other),
          outcome: f.what,
          withinMs: ms,
          inOrder: f.inOrder,
          ownFalls: isContact(own),
          otherFalls: isContact(f.other),
        },
      };
    case "events":
      return { faults, made: { kind: "eventsWithin", count: first, withinMs: ms } };
    default: {
      const clear = isNumber(f.second) ? f.second : first;
      return isNumber(f.times) && f.times > 1
        ? { faults, made: { kind: "inARow", side: f.what, limit: first, clear, times: f.times } }
        : { faults, made: { kind: "beyondLimit", side: f.what, limit: first, clear, forMs: ms } };
    }
  }
}

/** A time that makes sense when the kind is changed and the one before does not. */
export function lastingFor(what: What, lasting: string): string {
  const none = parseDuration(lasting) === 0;
  if (what === "silent" && none) return "10 min";
  if ((what === "rises" || what === "falls") && none) return "30 min";
  if (what === "events" && none) return "1 min";
  if (what === "unlike" && none) return "10 min";
  if (isSequence(what) && none) return "10 s";
  return lasting;
}
