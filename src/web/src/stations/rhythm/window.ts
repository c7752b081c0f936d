/** A stretch of a line from 0 to a total that can be zoomed and moved, and never leaves it. */
import { computed, ref, type Ref } from "vue";

export function useWindow(total: Readonly<Ref<number>>) {
  const from = ref(0);
  const to = ref(total.value);
  const span = computed(() => Math.max(to.value - from.value, Number.EPSILON));

  function show(start: number, end: number) {
    const wide = Math.min(Math.max(end - start, total.value / 1e6), total.value);
    from.value = Math.min(Math.max(0, start), total.value - wide);
    to.value = from.value + wide;
  }

  /** Makes it `by` times closer, keeping one place where it is. */
  function zoom(by: number, around = from.value + span.value / 2) {
    const part = (around - from.value) / span.value;
    const wide = span.value / by;
    show(around - part * wide, around + (1 - part) * wide);
  }

  const move = (by: number) => show(from.value + by, to.value + by);

  return { from, span, show, zoom, move };
}
