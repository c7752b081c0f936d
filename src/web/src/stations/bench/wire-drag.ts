/** Carrying a wire to a pin: with mouse, finger or pen by pointer events, and with the keyboard. Pins are elements with data-pin. */
import { onScopeDispose, ref } from "vue";

/** A line of a part. */
export interface ChosenWire {
  part: string;
  line: string;
}

interface Carrier {
  /** The wire is in hand. */
  lift: (wire: ChosenWire) => void;
  /** It is over a pin, or over none. */
  over: (pin: string | undefined) => void;
  drop: (wire: ChosenWire, pin: string) => Promise<void>;
}

/** So far the pointer may move before a press is a drag, in pixels of the screen. */
const SLACK = 5;

export function useWireDrag(carrier: Carrier) {
  const carried = ref<ChosenWire>();
  /** Where the pointer is, in pixels of the window; none while the keyboard carries. */
  const at = ref<{ x: number; y: number }>();
  let pressed: { wire: ChosenWire; x: number; y: number; pointer: number } | undefined;

  const pinUnder = (e: PointerEvent) =>
    document.elementFromPoint(e.clientX, e.clientY)?.closest<Element>("[data-pin]")?.getAttribute("data-pin") ?? undefined;

  function move(e: PointerEvent) {
    if (!pressed || e.pointerId !== pressed.pointer) return;
    if (!carried.value && Math.hypot(e.clientX - pressed.x, e.clientY - pressed.y) > SLACK) {
      carried.value = pressed.wire;
      carrier.lift(pressed.wire);
    }
    if (carried.value) {
      e.preventDefault();
      at.value = { x: e.clientX, y: e.clientY };
      carrier.over(pinUnder(e));
    }
  }

  async function up(e: PointerEvent) {
    if (!pressed || e.pointerId !== pressed.pointer) return;
    const pin = carried.value && e.type === "pointerup" ? pinUnder(e) : undefined;
    await end(pin);
  }

  /** Lays the wire down: on a pin, or back where it was. */
  async function end(pin?: string) {
    const wire = carried.value;
    stop();
    if (wire && pin) await carrier.drop(wire, pin);
  }

  function stop() {
    pressed = undefined;
    carried.value = undefined;
    at.value = undefined;
    carrier.over(undefined);
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", up);
    window.removeEventListener("pointercancel", up);
    window.removeEventListener("keydown", escape);
  }

  const escape = (e: KeyboardEvent) => {
    if (e.key === "Escape") stop();
  };

  /** A press on a wire: a drag once the pointer moves. */
  function press(e: PointerEvent, wire: ChosenWire) {
    if (e.button !== 0) return;
    stop();
    pressed = { wire, x: e.clientX, y: e.clientY, pointer: e.pointerId };
    window.addEventListener("pointermove", move, { passive: false });
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", up);
    window.addEventListener("keydown", escape);
  }

  /** Takes a wire in hand by the keyboard: arrows go from pin to pin, Enter lays it down, Escape gives up. */
  function carry(wire: ChosenWire) {
    stop();
    carried.value = wire;
    carrier.lift(wire);
    window.addEventListener("keydown", escape);
  }

  onScopeDispose(stop);
  return { carried, at, press, carry, end, over: carrier.over };
}
