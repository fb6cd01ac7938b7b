// How often the right mask is proposed first, and among the first three, on pictures whose mask is known; beside GrabCut (C. Rother,
// V. Kolmogorov, A. Blake, 2004) of OpenCV from a box around the whole picture.
// `tsx bench/proposals.ts SET [picture.jpg matte.png]`: another set of drawn pictures; a photograph with its published matte. `FAILED`
// names a file for pictures of those where the likeliest is wrong: the picture, its truth, the likeliest.
import { boundaryF, intersectionOverUnion, makeMask, makePicture, proposeMasks, type Mask } from '@lithe-sieve/core/testing'; // prettier-ignore
import sharp from 'sharp';
import { grabCut } from './grab-cut.ts';
import { proposalScenes, type Scene } from './proposal-scenes.ts';

/** A mask is right where it keeps what the truth keeps, but for a tenth, or is off by little in the mean: of hair the edge is most. */
const [RIGHT, NEAR] = [0.9, 0.035];
/** And its outline is right where nine tenths lie within 0.75 % of the diagonal, both ways, and little is added or lost. */
const [OUTLINE, MUCH] = [0.9, 0.8];

function errorOf(a: Mask, b: Mask): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) sum += Math.abs(a.data[i] - b.data[i]);
  return sum / (255 * a.data.length);
}

async function photograph([picture, matte]: readonly string[]): Promise<Scene[]> {
  if (!matte) return [];
  const { data, info } = await sharp(picture).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width, height } = info;
  const truth = await sharp(matte).resize(width, height, { fit: 'fill' }).greyscale().raw().toBuffer();
  return [{ name: picture.split('/').at(-1)!, picture: makePicture(width, height, new Uint8Array(data)), truth: makeMask(width, height, new Uint8Array(truth)) }]; // prettier-ignore
}

const files = process.argv.slice(3);
const scenes = files.length > 0 ? await photograph(files) : proposalScenes(Number(process.argv[2] ?? 0));
const counts = { right: [0, 0, 0], outline: [0, 0, 0] };
const sums = { iou: 0, f: 0, cutIou: 0, cutF: 0, cuts: 0 };
let most = 0;
const failed: { scene: Scene; first: Mask }[] = [];
const note = (tally: number[], at: number) => [at === 0, at >= 0 && at < 3, at >= 0].forEach((is, k) => (tally[k] += Number(is))); // prettier-ignore

for (const { name, picture, truth } of scenes) {
  const started = performance.now();
  const proposals = proposeMasks(picture);
  const ms = performance.now() - started;
  most = Math.max(most, ms);
  const scores = proposals.map(({ mask }) => ({ iou: intersectionOverUnion(mask, truth), error: errorOf(mask, truth), f: boundaryF(mask, truth) })); // prettier-ignore
  const at = scores.findIndex(({ iou, error }) => iou >= RIGHT || error <= NEAR);
  note(counts.right, at);
  if (at !== 0 && proposals.length > 0) failed.push({ scene: { name, picture, truth }, first: proposals[0].mask });
  note(
    counts.outline,
    scores.findIndex(({ iou, f }) => iou >= RIGHT || (f >= OUTLINE && iou >= MUCH)),
  );
  const cut = grabCut(picture);
  sums.iou += scores[0]?.iou ?? 0;
  sums.f += scores[0]?.f ?? 0;
  if (cut) sums.cutIou += intersectionOverUnion(cut, truth);
  if (cut) sums.cutF += boundaryF(cut, truth);
  sums.cuts += Number(cut !== null);
  const words = scores.map(({ iou, error, f }, i) => `${iou.toFixed(2)}/${error.toFixed(3)}/${f.toFixed(2)} ${proposals[i].title} ${proposals[i].likelihood.toFixed(2)}`); // prettier-ignore
  const other = cut
    ? ` | GrabCut ${intersectionOverUnion(cut, truth).toFixed(2)}/${boundaryF(cut, truth).toFixed(2)}`
    : '';
  const mark = at === 0 ? ' ' : at < 0 ? 'X' : String(at + 1);
  console.log(`${mark} ${name.padEnd(28)} ${ms.toFixed(0).padStart(4)} ms  ${words.join(' | ')}${other}`);
}
const percent = (n: number) => `${Math.round((100 * n) / scenes.length)} %`;
const said = ([first, three, six]: number[]) => `first ${percent(first)}, among three ${percent(three)}, among six ${percent(six)}`; // prettier-ignore
const mean = (v: number) => (v / scenes.length).toFixed(3);
console.log(`right: ${said(counts.right)}; at most ${most.toFixed(0)} ms`);
console.log(`right, or with the right outline: ${said(counts.outline)}`);
console.log(`likeliest: intersection over union ${mean(sums.iou)}, boundary F ${mean(sums.f)} in the mean`);
if (sums.cuts > 0) console.log(`GrabCut: ${mean(sums.cutIou)}, ${mean(sums.cutF)}`);

/** Side of each picture, and how many of three stand in a row. */
const [SIDE, ACROSS] = [104, 4];
if (process.env['FAILED']) {
  const small = (data: Uint8Array, width: number, height: number, channels: 1 | 4) =>
    sharp(data, { raw: { width, height, channels } }).resize(SIDE, SIDE, { fit: 'inside' }).png().toBuffer();
  const places = failed.flatMap(({ scene: { picture, truth }, first }, n) =>
    [small(picture.data, picture.width, picture.height, 4), ...[truth, first].map(({ data, width, height }) => small(data, width, height, 1))].map(async (input, k) => ({ input: await input, left: (3 * (n % ACROSS) + k) * (SIDE + 4) + 12 * (n % ACROSS), top: Math.floor(n / ACROSS) * (SIDE + 8) }))); // prettier-ignore
  const [width, height] = [ACROSS * (3 * (SIDE + 4) + 12), Math.ceil(failed.length / ACROSS) * (SIDE + 8)];
  const sheet = sharp({ create: { width, height, channels: 3, background: '#888' } });
  await sheet
    .composite(await Promise.all(places))
    .webp({ quality: 80 })
    .toFile(process.env['FAILED']);
}
