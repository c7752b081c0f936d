/** Outlines of rooms: plain geometry for drawing them, metres, y down. What moves with them is worked out by the server. */

export interface At {
  x: number;
  y: number;
}

export const round = (n: number) => Math.round(n * 100) / 100;

export const rectangle = (a: At, b: At): At[] => {
  const [x, y, right, bottom] = [Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y)];
  return [
    { x, y },
    { x: right, y },
    { x: right, y: bottom },
    { x, y: bottom },
  ];
};

/** Whether an outline is a rectangle along the sheet. */
export function isRectangle(corners: At[]): boolean {
  const level = corners.every((c, i) => {
    const next = corners[(i + 1) % corners.length]!;
    return (c.x === next.x) !== (c.y === next.y);
  });
  return corners.length === 4 && level;
}

export const between = (a: At, b: At) => Math.hypot(b.x - a.x, b.y - a.y);

/** Sides of an outline: their ends, middles, lengths, and the way out of the room, one metre long. */
export function sides(corners: At[]) {
  const next = (i: number) => corners[(i + 1) % corners.length]!;
  const clockwise = Math.sign(corners.reduce((sum, c, i) => sum + c.x * next(i).y - next(i).x * c.y, 0)) || 1;
  return corners.map((from, i) => {
    const to = next(i);
    const length = between(from, to) || 1;
    return {
      from,
      to,
      length,
      middle: { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 },
      out: { x: (clockwise * (to.y - from.y)) / length, y: (-clockwise * (to.x - from.x)) / length },
    };
  });
}
