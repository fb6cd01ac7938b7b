// How often the right mask is proposed first, and among the first three, on pictures whose mask is known.
import { intersectionOverUnion, proposeMasks, type Mask } from '@lithe-sieve/core/testing';
import { proposalScenes } from './proposal-scenes.ts';

/** A mask is right where it keeps what the truth keeps, but for a tenth, or is off by little in the mean: of hair the edge is most. */
const [RIGHT, NEAR] = [0.9, 0.035];

function errorOf(a: Mask, b: Mask): number {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) sum += Math.abs(a.data[i] - b.data[i]);
  return sum / (255 * a.data.length);
}

let [first, three, any, most] = [0, 0, 0, 0];
const scenes = proposalScenes(Number(process.argv[2] ?? 0));
for (const { name, picture, truth } of scenes) {
  const started = performance.now();
  const proposals = proposeMasks(picture);
  const ms = performance.now() - started;
  most = Math.max(most, ms);
  const scores = proposals.map(({ mask }) => [intersectionOverUnion(mask, truth), errorOf(mask, truth)] as const);
  const at = scores.findIndex(([iou, error]) => iou >= RIGHT || error <= NEAR);
  first += Number(at === 0);
  three += Number(at >= 0 && at < 3);
  any += Number(at >= 0);
  const words = scores.map(([iou, error], i) => `${iou.toFixed(2)}/${error.toFixed(3)} ${proposals[i].run[0].kind}${proposals[i].run.length > 2 ? ' inverted' : ''} ${proposals[i].likelihood.toFixed(2)}`); // prettier-ignore
  console.log(
    `${at === 0 ? ' ' : at < 0 ? 'X' : String(at + 1)} ${name.padEnd(28)} ${ms.toFixed(0).padStart(4)} ms  ${words.join(' | ')}`,
  );
}
const percent = (n: number) => `${Math.round((100 * n) / scenes.length)} %`;
console.log(
  `first ${percent(first)}, among three ${percent(three)}, among six ${percent(any)}; at most ${most.toFixed(0)} ms`,
);
