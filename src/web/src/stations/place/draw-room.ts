/** Drawing a room with the pointer: pressed at one corner, let go at the other. */
import { computed, ref } from "vue";

interface At {
  x: number;
  y: number;
}

/** A room that was drawn, metres. */
export interface Drawn {
  x: number;
  y: number;
  width: number;
  depth: number;
}

const metres = (n: number) => Math.round(n * 100) / 100;

/** @param corners What a drawn corner clings to when it comes near, metres. */
export function useDrawRoom(toPlan: (e: PointerEvent) => At | undefined, corners: () => At[], done: (room: Drawn) => void) {
  const active = ref(false);
  const from = ref<At>();
  const to = ref<At>();
  const near = (p: At) => {
    const cling = (n: number, all: number[]) => all.find((o) => Math.abs(o - n) < 0.25) ?? n;
    return {
      x: cling(
        p.x,
        corners().map((c) => c.x),
      ),
      y: cling(
        p.y,
        corners().map((c) => c.y),
      ),
    };
  };
  const drawn = computed<Drawn | undefined>(() =>
    from.value && to.value
      ? {
          x: Math.min(from.value.x, to.value.x),
          y: Math.min(from.value.y, to.value.y),
          width: metres(Math.abs(to.value.x - from.value.x)),
          depth: metres(Math.abs(to.value.y - from.value.y)),
        }
      : undefined,
  );

  function down(e: PointerEvent) {
    const p = active.value ? toPlan(e) : undefined;
    if (!p) return;
    e.preventDefault();
    // Let go beyond the sheet it still ends here.
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    from.value = to.value = near(p);
  }

  function move(e: PointerEvent) {
    const p = from.value ? toPlan(e) : undefined;
    if (p) to.value = near(p);
  }

  function up() {
    const room = drawn.value;
    from.value = to.value = undefined;
    if (room && room.width > 0.2 && room.depth > 0.2) {
      active.value = false;
      done(room);
    }
  }

  return { active, drawn, down, move, up };
}
