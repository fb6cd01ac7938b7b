/**
 * Where the texels of a result lie in the picture before: x = xx · u + xy · v + x0, y = yx · u + yy · v + y0, both
 * measured from the corners of their rasters, so that the centre of the first texel is 0.5.
 */
export interface Placing {
  width: number;
  height: number;
  xx: number;
  xy: number;
  x0: number;
  yx: number;
  yy: number;
  y0: number;
}
