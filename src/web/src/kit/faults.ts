/** What a form was refused for: each sentence is shown at the field that it is about, the rest above the buttons. */
import { computed, inject, provide, reactive, watchEffect, type ComputedRef, type InjectionKey } from "vue";

/** A sentence, and the path of the field in the edit ("zone.exitMs"); none where it is about no single one. */
export interface Fault {
  says: string;
  field?: string | null;
}

interface Form {
  faults: () => Fault[];
  /** The fields that show what is about them. */
  shown: Set<string>;
}
const form: InjectionKey<Form> = Symbol("faults of the form");

/** For a dialog: hands the faults to its fields, and gives those that no field shows. */
export function provideFaults(faults: () => Fault[]): ComputedRef<Fault[]> {
  const shown = reactive(new Set<string>());
  provide(form, { faults, shown });
  return computed(() => faults().filter((f) => !f.field || !shown.has(f.field)));
}

/** For a field: the sentences that are about it. */
export function useFault(field: () => string | undefined): ComputedRef<string | undefined> {
  const around = inject(form, undefined);
  watchEffect((undo) => {
    const at = field();
    if (!around || !at) return;
    around.shown.add(at);
    undo(() => around.shown.delete(at));
  });
  return computed(() => {
    const about = around?.faults().filter((f) => f.field && f.field === field()) ?? [];
    return about.map((f) => f.says).join(" ") || undefined;
  });
}

/** That a text is no length of time. */
export const noTime = (text: string, field?: string): Fault => ({
  says: `"${text}" is no time; write it like 30 s, 5 min or 2 h.`,
  field,
});
