/** What the tiles of a board share: the time zone and site time, the plan as far as it is shown, the readings, and the stretch that is looked at. */
import { inject, provide, type ComputedRef, type InjectionKey, type Ref } from "vue";
import type { Floor, ReadingView, Room } from "@/api/client";

export interface Stretch {
  from: number;
  to: number;
}

export interface Board {
  zone: ComputedRef<string>;
  now: Ref<number>;
  readings: ComputedRef<ReadingView[]>;
  rooms: ComputedRef<Room[]>;
  floors: ComputedRef<Floor[]>;
  /** Where nodes hang; without a floor on the ground. */
  spots: ComputedRef<{ node: string; x: number; y: number; floor?: string | null }[]>;
  stretch: ComputedRef<Stretch>;
  /** Looks at another stretch: what was zoomed or moved to. */
  look: (to: Stretch) => void;
}

const key: InjectionKey<Board> = Symbol("board");
export const provideBoard = (board: Board) => provide(key, board);
export const useBoard = () => inject(key)!;

export const find = (readings: ReadingView[], of: { node: string; reading: string }) =>
  readings.find((r) => r.node === of.node && r.key === of.reading);

/** Colour and dash of the series of a tile, in its order: told apart also without colour. */
export const seriesColour = (i: number) => `var(--series-${(i % 8) + 1})`;
export const dashes: number[][] = [[], [8, 4], [2, 3], [12, 3, 2, 3], [5, 5], [14, 4], [3, 6], [8, 3, 2, 3, 2, 3]];
