/** The part of a plan that is drawn, in metres. */
export interface PlanBox {
  x: number;
  y: number;
  w: number;
  h: number;
}

interface At {
  x: number;
  y: number;
}

/** The box round points, with a margin; below room for a line of text where it is wanted. */
export function planBox(points: At[], margin: number, below = 0): PlanBox {
  if (!points.length) return { x: 0, y: 0, w: 10, h: 6 };
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  const [x, y] = [Math.min(...xs) - margin, Math.min(...ys) - margin];
  return { x, y, w: Math.max(...xs) - x + margin, h: Math.max(...ys) - y + margin + below };
}
