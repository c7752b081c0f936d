/** Which stretch a board looks at: live with a length, or a fixed one. Stands in the address, so that it can be sent and gone back to. */
import { computed, type Ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Stretch } from "./board";

const hour = 3_600_000;
export const spans = [
  { key: "1h", label: "1 h", ms: hour },
  { key: "6h", label: "6 h", ms: 6 * hour },
  { key: "1d", label: "1 d", ms: 24 * hour },
  { key: "7d", label: "7 d", ms: 7 * 24 * hour },
  { key: "30d", label: "30 d", ms: 30 * 24 * hour },
  { key: "1y", label: "1 y", ms: 365.25 * 24 * hour },
  { key: "5y", label: "5 y", ms: 5 * 365.25 * 24 * hour },
];
const longest = 5 * 365.25 * 24 * hour;
const shortest = 10_000;

/** A stretch with what was before and after something. */
export function stretchRound(from: number, to: number): Stretch {
  const beside = Math.max(15 * 60_000, to - from);
  return { from: Math.round(from - beside), to: Math.round(to + beside / 2) };
}

export function useRange(now: Ref<number>) {
  const route = useRoute();
  const router = useRouter();
  const fixed = computed<Stretch | undefined>(() => {
    const [from, to] = [Number(route.query.from), Number(route.query.to)];
    return from > 0 && to > from ? { from, to } : undefined;
  });
  const span = computed(() => spans.find((s) => s.key === route.query.span) ?? spans[2]!);
  /** Moves on with the time by steps of a hundredth of its length, so that not every second asks anew. */
  const step = computed(() => Math.max(5_000, span.value.ms / 200));
  const stretch = computed<Stretch>(() => {
    if (fixed.value) return fixed.value;
    const to = Math.ceil(now.value / step.value) * step.value;
    return { from: to - span.value.ms, to };
  });
  const others = () => Object.fromEntries(Object.entries(route.query).filter(([k]) => !["from", "to", "span"].includes(k)));
  function look(to: Stretch) {
    const length = Math.min(longest, Math.max(shortest, to.to - to.from));
    const middle = (to.from + to.to) / 2;
    const end = Math.min(middle + length / 2, now.value + length / 20);
    void router.replace({ query: { ...others(), from: Math.round(end - length), to: Math.round(end) } });
  }
  return {
    stretch,
    live: computed(() => !fixed.value),
    span,
    look,
    choose: (key: string) => void router.replace({ query: { ...others(), span: key } }),
    zoom: (by: number) => {
      const { from, to } = stretch.value;
      const middle = (from + to) / 2;
      look({ from: middle - ((to - from) / 2) * by, to: middle + ((to - from) / 2) * by });
    },
    pan: (by: number) => {
      const { from, to } = stretch.value;
      look({ from: from + (to - from) * by, to: to + (to - from) * by });
    },
  };
}
