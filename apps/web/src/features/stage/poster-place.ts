import type { Point, Size } from '../../drawing/poses';

/**
 * The CSS transform that lays a picture with its corners on four points, in perspective: P. Heckbert, "Fundamentals of
 * Texture Mapping and Image Warping" (1989), §2.2.3.
 *
 * @param corners - Top left, top right, bottom right, bottom left.
 */
export function laidOn([a, b, c, d]: readonly Point[], { width, height }: Size): string {
  const [sx, sy] = [a.x - b.x + c.x - d.x, a.y - b.y + c.y - d.y];
  const [dx1, dy1, dx2, dy2] = [b.x - c.x, b.y - c.y, d.x - c.x, d.y - c.y];
  const area = dx1 * dy2 - dx2 * dy1;
  const g = area === 0 ? 0 : (sx * dy2 - dx2 * sy) / area;
  const h = area === 0 ? 0 : (dx1 * sy - sx * dy1) / area;
  const [u, v] = [1 / width, 1 / height];
  const columns = [
    [(b.x - a.x + g * b.x) * u, (b.y - a.y + g * b.y) * u, 0, g * u],
    [(d.x - a.x + h * d.x) * v, (d.y - a.y + h * d.y) * v, 0, h * v],
    [0, 0, 1, 0],
    [a.x, a.y, 0, 1],
  ];
  return `matrix3d(${columns
    .flat()
    .map((n) => Number(n.toPrecision(9)))
    .join()})`;
}
