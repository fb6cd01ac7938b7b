// Fits the weights of `core/src/propose/weights.ts` to drawn pictures whose masks are known, other ones than bench/proposals.ts
// measures: ridge regression of the intersection over union within each picture, so that what is alike for all masks of a
// picture counts nothing. Prints the file.
import { agreementsOf, bothTerms, intersectionOverUnion, termsOf, triedMasks } from '@lithe-sieve/core/testing';
import { proposalScenes, shrunkTruth } from './proposal-scenes.ts';

const RIDGE = 2;
const SETS = Number(process.argv[2] ?? 5);
const rows: { terms: number[]; score: number }[][] = [];
const agreements: number[][] = [];
for (let set = 1; set <= SETS; set++) {
  for (const { picture, truth } of proposalScenes(set)) {
    const tried = triedMasks(picture);
    if (tried.length === 0) continue;
    const [{ mask }] = tried;
    const small = shrunkTruth(truth, mask.width, mask.height);
    agreements.push(agreementsOf(tried));
    rows.push(tried.map(({ mask: m, parts }) => ({ terms: termsOf(parts), score: intersectionOverUnion(m, small) })));
  }
  console.error(`set ${set}: ${rows.length} pictures`);
}
/** Weights of terms that are regressed on scores within each group, the constant last of all. */
function fitted(groups: { terms: number[]; score: number }[][], ridge: number): number[] {
  const size = groups[0][0].terms.length;
  const square = Array.from({ length: size }, () => new Float64Array(size));
  const right = new Float64Array(size);
  const meanTerms = new Float64Array(size);
  let [meanScore, count] = [0, 0];
  for (const group of groups) {
    const own = Float64Array.from(
      { length: size },
      (_, k) => group.reduce((sum, r) => sum + r.terms[k], 0) / group.length,
    );
    const score = group.reduce((sum, r) => sum + r.score, 0) / group.length;
    for (const { terms, score: is } of group) {
      // those that are nearly right count more: which of them is first is what matters
      const weight = 0.2 + is * is;
      const off = terms.map((v, k) => v - own[k]);
      for (let i = 1; i < size; i++) {
        right[i] += weight * off[i] * (is - score);
        for (let j = 1; j < size; j++) square[i][j] += weight * off[i] * off[j];
      }
      terms.forEach((v, k) => (meanTerms[k] += v));
      meanScore += is;
      count++;
    }
  }
  for (let i = 1; i < size; i++) square[i][i] += ridge;
  square[0][0] = 1;
  const weights = solved(square, right);
  weights[0] = meanScore / count - weights.reduce((sum, w, k) => (k === 0 ? 0 : sum + (w * meanTerms[k]) / count), 0);
  return weights;
}

const weights = fitted(rows, RIDGE);
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i], 0);
const second = rows.map((group, g) =>
  group.map(({ terms, score }, i) => ({
    terms: bothTerms(Math.max(0, Math.min(1, dot(terms, weights))), agreements[g][i]),
    score,
  })),
);
const both = fitted(second, 0.01);
const listed = (of: readonly number[]) => of.map((w) => Number(w.toFixed(4))).join(', ');
console.log(`/** A weight for each term of \`termsOf\`, as bench/fit-likelihood.ts finds them. */
export const WEIGHTS: readonly number[] = [${listed(weights)}];

/** A weight for each term of \`bothTerms\`. */
export const BOTH: readonly number[] = [${listed(both)}];`);

/** Gaussian elimination with pivots. */
function solved(a: Float64Array[], b: Float64Array): number[] {
  const n = b.length;
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(a[r][i]) > Math.abs(a[pivot][i])) pivot = r;
    [a[i], a[pivot]] = [a[pivot], a[i]];
    [b[i], b[pivot]] = [b[pivot], b[i]];
    for (let r = i + 1; r < n; r++) {
      const by = a[r][i] / (a[i][i] || 1e-12);
      if (by === 0) continue;
      for (let c = i; c < n; c++) a[r][c] -= by * a[i][c];
      b[r] -= by * b[i];
    }
  }
  const out = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[i];
    for (let c = i + 1; c < n; c++) sum -= a[i][c] * out[c];
    out[i] = sum / (a[i][i] || 1e-12);
  }
  return out;
}
