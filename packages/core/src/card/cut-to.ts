/** A place of a picture. */
export type UV = readonly [u: number, v: number];

/** What of a polygon lies in a rectangle (I. Sutherland, G. Hodgman, "Reentrant Polygon Clipping", 1974). */
export function cutTo(polygon: readonly UV[], left: number, top: number, right: number, bottom: number): UV[] {
  const sides: [axis: 0 | 1, limit: number, sign: 1 | -1][] = [
    [0, left, 1],
    [0, right, -1],
    [1, top, 1],
    [1, bottom, -1],
  ];
  return sides.reduce<UV[]>(
    (points, [axis, limit, sign]) => {
      const inside = (p: UV) => sign * (p[axis] - limit) >= 0;
      return points.flatMap((to, i) => {
        const from = points[(i + points.length - 1) % points.length];
        if (inside(from) === inside(to)) return inside(to) ? [to] : [];
        const share = (limit - from[axis]) / (to[axis] - from[axis]);
        const crossing: UV = [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
        return inside(to) ? [crossing, to] : [crossing];
      });
    },
    [...polygon],
  );
}
