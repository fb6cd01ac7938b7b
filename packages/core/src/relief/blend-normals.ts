/**
 * Detail laid over a base so that it turns with it: reoriented normal mapping, C. Barré-Brisebois, S. Hill, "Blending in
 * Detail" (2012): with t = base + (0, 0, 1) and u = detail · (−1, −1, 1), r = t (t · u) / t_z − u. Both of length 1.
 *
 * @param out - Receives x, y, z, of length 1.
 */
export function reorient(base: Float64Array, detail: Float64Array, out: Float64Array): void {
  const tz = base[2] + 1;
  const ux = -detail[0];
  const uy = -detail[1];
  const along = (base[0] * ux + base[1] * uy + tz * detail[2]) / tz;
  out[0] = base[0] * along - ux;
  out[1] = base[1] * along - uy;
  out[2] = tz * along - detail[2];
}
