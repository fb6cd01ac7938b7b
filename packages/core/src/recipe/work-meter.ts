import { SieveError } from '../errors.ts';

/** Shapes of one recipe, quads and polygons: so many are built and sorted in about seven seconds on one thread, in 1 GB. */
export const MOST_SHAPES = 2_000_000;
/** Texels that all shapes may cover together: about three quarters of a minute of painting. */
export const MOST_COVERED = 8e9;
/** Shapes between two looks whether something newer is wanted. */
const LOOK_EVERY = 512;

/** What drawing a scene costs, counted while it is built, so that what is too much is refused before it is drawn. */
export class WorkMeter {
  private shapes = 0;
  /** Texels of the full size. */
  private covered = 0;

  /**
   * @param width - Of the card in texels of the full size.
   * @param ratio - Of the card's height to its width.
   * @param look - Throws to give up.
   */
  constructor(
    private readonly width: number,
    private readonly ratio: number,
    private readonly look: () => void = () => undefined,
  ) {}

  /**
   * Counts a shape.
   *
   * @param corners - x, y of all corners, in widths of the card.
   * @param first - Its first corner, and the one after its last.
   * @throws {@link SieveError} `too-large` beyond {@link MOST_SHAPES} or {@link MOST_COVERED}, and what `look` throws.
   */
  count(corners: Float64Array, first: number, end: number): void {
    if (++this.shapes % LOOK_EVERY === 0) this.look();
    let [left, right, top, bottom] = [1, 0, this.ratio, 0];
    let twice = 0;
    let [px, py] = [corners[2 * end - 2], corners[2 * end - 1]];
    for (let k = first; k < end; k++) {
      const x = corners[2 * k];
      const y = corners[2 * k + 1];
      twice += px * y - x * py;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
      px = x;
      py = y;
    }
    const seen = (Math.min(1, right) - Math.max(0, left)) * (Math.min(this.ratio, bottom) - Math.max(0, top));
    // of one that lies at a slant less than its box is covered, of one that leaves the card no more than is on it
    if (seen > 0) this.covered += Math.min(seen, Math.abs(twice) / 2) * this.width * this.width;
    if (this.shapes > MOST_SHAPES) throw tooMany(`more than ${millions(MOST_SHAPES)} million shapes`);
    if (this.covered > MOST_COVERED) {
      const layers = MOST_COVERED / (this.width * this.width * this.ratio);
      throw tooMany(`shapes that lie over each other more than ${Math.floor(layers)} times at this size`);
    }
  }
}

const millions = (n: number) => (n / 1e6).toFixed(0);

function tooMany(what: string): SieveError {
  return new SieveError(
    'too-large',
    `This recipe comes to ${what}, which would take minutes to draw.`,
    'Make its parts fewer, thinner or further apart, or the texture smaller.',
  );
}
