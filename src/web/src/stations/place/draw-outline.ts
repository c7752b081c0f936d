/** Drawing a room: a rectangle by pressing at one corner and letting go at the other, or any outline corner by corner, by pointer or by keys. */
import { computed, ref, watch, type Ref } from "vue";
import { arrowMove } from "@/kit/plan";
import { between, rectangle, round, type At } from "./outline";

/** A press that moves less than this is a click, m. */
const CLICK = 0.25;
/** A corner clings to what is nearer than this, m. */
const CLING = 0.25;

/**
 * @param active Whether it is drawn: Escape ends it.
 * @param corners What a corner clings to when it comes near, metres.
 */
export function useDrawOutline(
  active: Ref<boolean>,
  toPlan: (e: PointerEvent) => At | undefined,
  corners: () => At[],
  done: (outline: At[]) => void,
) {
  /** Corners that were set. */
  const set = ref<At[]>([]);
  /** Where the pointer is, or the cross that the arrow keys move. */
  const at = ref<At>();
  const pressed = ref<At>();

  /** Near a corner's x or y it is that; the side that is drawn runs along the sheet where it nearly does. */
  function near(p: At): At {
    const cling = (n: number, all: number[]) => all.find((o) => Math.abs(o - n) < CLING) ?? n;
    const last = set.value.at(-1);
    const known = [...corners(), ...set.value.slice(0, 1)];
    const [dx, dy] = last ? [Math.abs(p.x - last.x), Math.abs(p.y - last.y)] : [1, 1];
    return {
      x:
        last && dx < 0.15 * dy
          ? last.x
          : round(
              cling(
                p.x,
                known.map((c) => c.x),
              ),
            ),
      y:
        last && dy < 0.15 * dx
          ? last.y
          : round(
              cling(
                p.y,
                known.map((c) => c.y),
              ),
            ),
    };
  }

  const isRectangle = computed(
    () => !set.value.length && !!pressed.value && !!at.value && between(pressed.value, at.value) >= CLICK,
  );
  /** What is drawn so far. */
  const drawn = computed<At[]>(() =>
    isRectangle.value ? rectangle(pressed.value!, at.value!) : set.value.length && at.value ? [...set.value, at.value] : [],
  );
  const closes = computed(() => set.value.length > 2 && !!at.value && between(set.value[0]!, at.value) < CLING + 0.05);

  function finish(outline: At[]) {
    set.value = [];
    pressed.value = undefined;
    if (outline.length > 2) done(outline);
  }

  /** Sets a corner where the pointer or the cross is; at the first corner it closes the outline. */
  function put() {
    if (!at.value) return;
    if (closes.value) finish(set.value);
    else if (!set.value.length || between(set.value.at(-1)!, at.value) >= 0.05) set.value = [...set.value, at.value];
  }

  function down(e: PointerEvent) {
    const p = active.value ? toPlan(e) : undefined;
    if (!p) return;
    e.preventDefault();
    // Let go beyond the sheet it still ends here.
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    pressed.value = at.value = near(p);
  }

  function move(e: PointerEvent) {
    const p = active.value && (pressed.value || set.value.length) ? toPlan(e) : undefined;
    if (p) at.value = near(p);
  }

  function up() {
    if (!active.value || !pressed.value) return;
    if (isRectangle.value) {
      const outline = rectangle(pressed.value, at.value!);
      pressed.value = undefined;
      if (outline[1]!.x - outline[0]!.x > 0.2 && outline[3]!.y - outline[0]!.y > 0.2) finish(outline);
    } else {
      pressed.value = undefined;
      put();
    }
  }

  /** Sets the next corner so far from the last, on the way to where the pointer or the cross is. */
  function putAt(metres: number) {
    const last = set.value.at(-1);
    if (!last || !at.value) return;
    const far = between(last, at.value);
    const way = far < 0.01 ? { x: 1, y: 0 } : { x: (at.value.x - last.x) / far, y: (at.value.y - last.y) / far };
    at.value = { x: round(last.x + way.x * metres), y: round(last.y + way.y * metres) };
    put();
  }

  function key(e: KeyboardEvent) {
    if (!active.value) return;
    const to = arrowMove(e, e.shiftKey ? 1 : 0.1);
    if (to) at.value = to(at.value ?? corners()[0] ?? { x: 0, y: 0 });
    else if (e.key === "Enter") put();
    else if (e.key === "Backspace") set.value = set.value.slice(0, -1);
    else if (e.key === "Escape") stop();
    else return;
    e.preventDefault();
  }

  watch(
    active,
    (on) => {
      set.value = [];
      pressed.value = undefined;
      at.value = on ? (corners()[0] ?? { x: 0, y: 0 }) : undefined;
    },
    { immediate: true },
  );

  /** Leaves what is begun; a second time it stops drawing. */
  function stop() {
    if (set.value.length) set.value = [];
    else active.value = false;
    pressed.value = undefined;
  }

  const close = () => finish(set.value);
  return { at, set, drawn, closes, isRectangle, down, move, up, key, putAt, stop, close };
}
