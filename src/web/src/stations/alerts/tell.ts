/** Telling as a form and as a sentence. */
import type { PersonDesign, QuietDesign, TellDesign } from "@/api/client";
import { exactDuration, parseDuration } from "@/kit/format";

export const days = ["monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"] as const;
export type Day = (typeof days)[number];

export interface TellForm {
  /** People in order, with the wait before each. */
  steps: { person: string; after: string }[];
  remind: string;
  throughQuiet: boolean;
  whenOver: boolean;
  /** What is told of a rule that raises more than three times an hour. */
  often: "auto" | "lasting" | "each";
}

export const tellForm = (t: TellDesign | null | undefined): TellForm => ({
  steps: (t?.steps ?? []).map((s) => ({ person: s.person, after: exactDuration(s.afterMs) })),
  remind: t?.remindEveryMs ? exactDuration(t.remindEveryMs) : "",
  throughQuiet: t?.throughQuiet ?? false,
  whenOver: t?.whenOver ?? true,
  often: t?.damped === true ? "lasting" : t?.damped === false ? "each" : "auto",
});

/** The design, or what is wrong; nobody chosen is nobody told. */
export function tellOf(f: TellForm): { made: TellDesign | null; fault?: string } {
  if (!f.steps.length) return { made: null };
  const waits = f.steps.map((s) => parseDuration(s.after));
  const bad = f.steps.find((_, i) => waits[i] === undefined);
  if (bad) return { made: null, fault: `"${bad.after}" is no time; write it like 0 s or 15 min.` };
  const remind = f.remind.trim() ? parseDuration(f.remind) : null;
  if (remind === undefined) return { made: null, fault: `"${f.remind}" is no time; write it like 1 h.` };
  return {
    made: {
      steps: f.steps.map((s, i) => ({ person: s.person, afterMs: waits[i]! })),
      remindEveryMs: remind,
      throughQuiet: f.throughQuiet,
      whenOver: f.whenOver,
      damped: f.often === "auto" ? null : f.often === "lasting",
    },
  };
}

export function tellSentence(t: TellDesign | null | undefined, people: PersonDesign[]): string {
  if (!t?.steps.length) return "Tells nobody but the pages that are open.";
  const name = (key: string) => people.find((p) => p.key === key)?.name ?? `${key} (removed)`;
  const whom = t.steps.map((s) =>
    s.afterMs ? `${name(s.person)} after ${exactDuration(s.afterMs)} unacknowledged` : name(s.person),
  );
  const again = t.remindEveryMs ? `, again every ${exactDuration(t.remindEveryMs)}` : "";
  return `Tells ${whom.join(", ")}${again}${t.throughQuiet ? ", also in quiet hours" : ""}${t.whenOver ? ", and when it is over" : ""}.`;
}

/** "22:30" of minutes of the day, and back. */
export const clock = (minute: number) =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
export function minuteOf(text: string): number | undefined {
  const found = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(text.trim());
  return found ? Number(found[1]) * 60 + Number(found[2]) : undefined;
}

export function quietSentence(q: QuietDesign): string {
  const all =
    q.days.length === 7
      ? "every day"
      : days
          .filter((d) => q.days.includes(d))
          .map((d) => d.slice(0, 3))
          .join(", ");
  return `${clock(q.fromMinute)} to ${clock(q.toMinute)}, ${all}`;
}
