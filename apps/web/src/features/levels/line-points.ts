interface Cell {
  x: number;
  y: number;
}

/** The texels from one to another, both of them too, in a line without gaps. */
export function linePoints(from: Cell, to: Cell): Cell[] {
  const steps = Math.max(Math.abs(to.x - from.x), Math.abs(to.y - from.y));
  return Array.from({ length: steps + 1 }, (_, k) => {
    const share = steps === 0 ? 0 : k / steps;
    return { x: Math.round(from.x + share * (to.x - from.x)), y: Math.round(from.y + share * (to.y - from.y)) };
  });
}
