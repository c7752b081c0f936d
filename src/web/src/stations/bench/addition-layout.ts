/** Where the pieces of an addition stand in its drawing: the pin at the left, the part at the right, supplies above, ground below. */
import type { BenchPlan } from "@/api/client";

type Circuit = BenchPlan["circuit"];
export type Piece = Circuit["components"][number];

/** A net of signals: its place, and what it goes on to outside the addition. */
export interface Spot {
  net: string;
  x: number;
  y: number;
  outside?: string;
  /** True where the outside is a pin that the program has. */
  start: boolean;
}

/** A piece with its place. `from` and `to` are the ends of a piece of two terminals; a transistor stands at `to`. */
export interface Placed {
  piece: Piece;
  form: "across" | "up" | "down" | "between" | "transistor" | "box";
  from: { x: number; y: number };
  to: { x: number; y: number };
  /** What a supply above or ground below is called. */
  above?: string;
  below?: string;
  /** Of a box, the terminals that face each other, row by row. */
  sides?: { left: string; right: string }[];
}

export interface Sketch {
  spots: Spot[];
  placed: Placed[];
  width: number;
  top: number;
  height: number;
}

const COLUMN = 150;
export const ROW = 56;
const TOP = 84;
const SHUNT = 46;
/** How far above its gate what a transistor switches stands. */
const LIFT = 34;

const two: Record<string, [string, string]> = {
  resistor: ["1", "2"],
  capacitor: ["+", "-"],
  diode: ["A", "K"],
  clamp: ["A", "K"],
  source: ["+", "-"],
};
const control: Record<string, { gate: string; out: string; common: string }> = {
  npn: { gate: "B", out: "C", common: "E" },
  nMosfet: { gate: "G", out: "D", common: "S" },
  pMosfet: { gate: "G", out: "D", common: "S" },
};
const at = (piece: Piece, terminal: string) => piece.terminals.find((t) => t.name === terminal)?.net ?? "";

/** Pairs of nets that a signal passes from one to the other. */
function passes(piece: Piece): [string, string][] {
  const pair = two[piece.kind];
  // What drives something has both its ends at the beginning.
  if (piece.kind === "source") return [];
  if (pair) return [[at(piece, pair[0]), at(piece, pair[1])]];
  const transistor = control[piece.kind];
  if (transistor) return [[at(piece, transistor.gate), at(piece, transistor.out)]];
  if (piece.kind === "buffer") return [[at(piece, "A"), at(piece, "Y")]];
  const channels = piece.terminals.filter((t) => /^LV\d$/.test(t.name));
  return channels.map((t) => [t.net ?? "", at(piece, "H" + t.name.slice(1))]);
}

/** @param pinOf What the pin of a net is called. */
export function layout(circuit: Circuit, pieces: Piece[], pinOf: (net: string) => string | undefined): Sketch {
  const kind = new Map(circuit.nets.map((n) => [n.key, n.kind]));
  const label = new Map(circuit.nets.map((n) => [n.key, n.label]));
  const isSignal = (net: string) => net !== "" && kind.get(net) !== "ground" && kind.get(net) !== "supply";
  const inside = new Set(pieces.map((p) => p.key));
  const outside = (net: string) =>
    circuit.components
      .filter((c) => !inside.has(c.key))
      .flatMap((c) =>
        c.terminals.filter((t) => t.net === net).map((t) => ({ board: c.kind === "board", text: `${c.label} ${t.name}` })),
      );
  const nets = [...new Set(pieces.flatMap((p) => p.terminals.map((t) => t.net ?? "")).filter(isSignal))];
  const ends = new Map(nets.map((n) => [n, outside(n)]));

  // Columns by how many pieces lie between a net and the pin; rows by where its way began.
  const column = new Map<string, number>();
  const row = new Map<string, number>();
  const starts = nets.filter((n) => ends.get(n)!.some((e) => e.board));
  const queue = starts.length ? starts : nets.slice(0, 1);
  queue.forEach((net, i) => {
    column.set(net, 0);
    row.set(net, i);
  });
  const links = pieces.flatMap(passes).filter(([a, b]) => isSignal(a) && isSignal(b));
  for (const net of queue) {
    for (const [a, b] of links) {
      const next = a === net ? b : b === net ? a : undefined;
      if (next === undefined || column.has(next)) continue;
      column.set(next, column.get(net)! + 1);
      row.set(next, row.get(net)!);
      queue.push(next);
    }
  }
  nets.filter((n) => !column.has(n)).forEach((n, i) => (column.set(n, 0), row.set(n, queue.length + i)));

  const lifted = new Set(pieces.filter((p) => control[p.kind]).map((p) => at(p, control[p.kind]!.out)));
  const spot = (net: string) => ({
    x: 130 + column.get(net)! * COLUMN,
    y: TOP + row.get(net)! * ROW - (lifted.has(net) ? LIFT : 0),
  });
  const shunts = new Map<string, number>();
  /** Where the next piece hangs on a net: side by side. */
  const hang = (net: string, side: string) => {
    const n = shunts.get(net + side) ?? 0;
    shunts.set(net + side, n + 1);
    return { x: spot(net).x + n * SHUNT, y: spot(net).y };
  };
  const rows = Math.max(0, ...row.values());
  const bottom = TOP + rows * ROW;
  const placed: Placed[] = [];
  let beside = Math.max(0, ...column.values());
  for (const piece of pieces) {
    const pair = two[piece.kind];
    const transistor = control[piece.kind];
    if (pair) placed.push(placeTwo(piece, at(piece, pair[0]), at(piece, pair[1])));
    else if (transistor) {
      const gate = at(piece, transistor.gate);
      const out = at(piece, transistor.out);
      const common = at(piece, transistor.common);
      const to = isSignal(out) ? spot(out) : { x: spot(gate).x + COLUMN * 0.8, y: spot(gate).y };
      const up = kind.get(common) === "supply";
      placed.push({
        piece,
        form: "transistor",
        from: spot(gate),
        to,
        above: up ? label.get(common) : isSignal(out) ? undefined : label.get(out),
        below: up ? (isSignal(out) ? undefined : label.get(out)) : "ground",
      });
    } else {
      placed.push(placeBox(piece));
    }
  }

  function placeTwo(piece: Piece, a: string, b: string): Placed {
    if (piece.kind === "source") return { piece, form: "between", from: spot(a), to: spot(b) };
    if (isSignal(a) && isSignal(b)) return { piece, form: "across", from: spot(a), to: spot(b) };
    const signal = isSignal(a) ? a : isSignal(b) ? b : undefined;
    const other = signal === a ? b : a;
    if (signal === undefined) {
      beside++;
      const x = 130 + beside * COLUMN - 40;
      const supply = kind.get(a) === "supply" ? a : b;
      return {
        piece,
        form: "between",
        from: { x, y: TOP - 40 },
        to: { x, y: TOP + 40 },
        above: label.get(supply),
        below: "ground",
      };
    }
    const up = kind.get(other) === "supply";
    const from = hang(signal, up ? "up" : "down");
    return up
      ? { piece, form: "up", from, to: { x: from.x, y: from.y - 50 }, above: label.get(other) }
      : { piece, form: "down", from, to: { x: from.x, y: bottom + 66 }, below: "ground" };
  }

  /** A module with a signal through it: its supplies are named above, its ground below. */
  function placeBox(piece: Piece): Placed {
    const facing = passes(piece)
      .filter(([a, b]) => isSignal(a) && isSignal(b))
      .map(([a, b]) => (column.get(a)! <= column.get(b)! ? { a, b } : { a: b, b: a }));
    const name = (net: string) => piece.terminals.find((t) => t.net === net)?.name ?? "";
    const feeds = piece.terminals.filter((t) => kind.get(t.net ?? "") === "supply");
    const first = facing[0] ?? { a: nets[0]!, b: nets[0]! };
    return {
      piece,
      form: "box",
      from: spot(first.a),
      to: spot(first.b),
      sides: facing.map((f) => ({ left: name(f.a), right: name(f.b) })),
      above: feeds.map((t) => `${t.name} ${label.get(t.net!)}`).join(", "),
      below: "ground",
    };
  }

  const spots = nets.map((net): Spot => {
    const all = ends.get(net)!;
    const pin = all.find((e) => e.board);
    return {
      net,
      ...spot(net),
      start: column.get(net) === 0,
      outside: all.length ? (pin ? (pinOf(net) ?? label.get(net)) : all[0]!.text) : undefined,
    };
  });
  const above = { across: 24, up: 72, down: 8, between: 18, transistor: 66, box: 54 };
  const below = { across: 12, up: 12, down: 88, between: 26, transistor: 88, box: 88 };
  const top = Math.min(...spots.map((s) => s.y - 14), ...placed.map((p) => p.from.y - above[p.form]));
  const end = Math.max(
    ...spots.map((s) => s.y + 14),
    ...placed.map(
      (p) => (p.form === "between" ? p.to.y : p.form === "across" || p.form === "up" ? p.from.y : bottom) + below[p.form],
    ),
  );
  return { spots, placed, width: 260 + (beside + 1) * COLUMN, top, height: end - top };
}
