/** Part of a picture, in texels: right and bottom are the first beyond it. */
export interface Box {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}
