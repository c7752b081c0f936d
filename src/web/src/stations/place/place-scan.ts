/** Handling the picture under a floor: a click sets one of two points, a drag or the arrow keys move it. */
import { computed, ref, watch, type Ref } from "vue";
import type { FloorScan } from "@/api/client";
import { between, round, type At } from "./outline";

/** A press that moves less than this is a click, m. */
const CLICK = 0.25;

/** @param active Whether the picture is worked on.
 *  @param moved Called with the picture where it was put. */
export function usePlaceScan(
  active: Ref<boolean>,
  toPlan: (e: PointerEvent) => At | undefined,
  scan: () => FloorScan | undefined,
  moved: (scan: FloorScan) => void,
) {
  const points = ref<At[]>([]);
  const from = ref<At>();
  const at = ref<At>();
  /** How far it is dragged. */
  const shift = computed(() =>
    from.value && at.value && between(from.value, at.value) >= CLICK
      ? { x: at.value.x - from.value.x, y: at.value.y - from.value.y }
      : undefined,
  );

  function by(x: number, y: number) {
    const s = scan();
    points.value = points.value.map((p) => ({ x: round(p.x + x), y: round(p.y + y) }));
    if (s) moved({ ...s, x: round(s.x + x), y: round(s.y + y) });
  }

  function down(e: PointerEvent) {
    const p = active.value && scan() ? toPlan(e) : undefined;
    if (!p) return;
    e.preventDefault();
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    from.value = at.value = p;
  }

  function move(e: PointerEvent) {
    const p = from.value ? toPlan(e) : undefined;
    if (p) at.value = p;
  }

  function up() {
    const [pressed, far] = [from.value, shift.value];
    from.value = at.value = undefined;
    if (!pressed) return;
    if (far) by(far.x, far.y);
    else if (points.value.length < 2) points.value = [...points.value, pressed];
  }

  function key(e: KeyboardEvent) {
    const step = e.shiftKey ? 1 : 0.1;
    const d = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[e.key];
    if (!active.value || !d || !scan()) return;
    e.preventDefault();
    by(d[0]!, d[1]!);
  }

  function again() {
    points.value = [];
  }

  function done() {
    active.value = false;
  }

  watch(active, again);

  return { points, shift, down, move, up, key, again, done };
}
