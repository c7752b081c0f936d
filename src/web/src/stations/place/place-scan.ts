/** Handling the picture under a floor: a click sets one of two points, a drag or the arrow keys move it. */
import { computed, ref, watch, type Ref } from "vue";
import type { FloorScan } from "@/api/client";
import { arrowMove, type Where } from "@/kit/plan";
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

  function shiftAll(to: Where) {
    const s = scan();
    points.value = points.value.map(to);
    if (s) moved({ ...s, ...to(s) });
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
    if (far) shiftAll(({ x, y }) => ({ x: round(x + far.x), y: round(y + far.y) }));
    else if (points.value.length < 2) points.value = [...points.value, pressed];
  }

  function key(e: KeyboardEvent) {
    const to = arrowMove(e, e.shiftKey ? 1 : 0.1);
    if (!active.value || !to || !scan()) return;
    e.preventDefault();
    shiftAll(to);
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
