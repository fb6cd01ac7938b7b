import type { SourceFacts } from './source-facts.ts';

const CHANNEL_WORDS = { 1: 'grey', 2: 'grey and alpha', 3: 'RGB', 4: 'RGB and alpha' } as const;

/**
 * What another file holds otherwise than the one it takes the place of, in plain sentences; what would lose the mask
 * comes first. Empty where only the texels differ.
 */
export function sourceChanges(before: SourceFacts, after: SourceFacts): string[] {
  const out: string[] = [];
  const [had, has] = [before.alpha, after.alpha];
  if (had !== 'none' && has === 'none') out.push('Alpha is gone in the new file.');
  else if (had === 'none' && has !== 'none') out.push(`The new file has alpha${all(has)}.`);
  else if (had === 'present' && has !== 'present') out.push(`Alpha is still there, but now${all(has)}.`);
  else if (had !== 'present' && has === 'present') out.push('Alpha now holds something.');
  if (before.width !== after.width || before.height !== after.height) {
    out.push(`It is ${after.width} × ${after.height} now, it was ${before.width} × ${before.height}.`);
  }
  const [were, are] = [colours(before), colours(after)];
  if (were !== are) out.push(`Its channels are ${CHANNEL_WORDS[after.channels]} now.`);
  if (before.bitDepth !== after.bitDepth) out.push(`It has ${after.bitDepth} bits a channel now.`);
  if (before.format !== after.format) out.push(`It is a ${after.format.toUpperCase()} now.`);
  if (!before.grey && after.grey && are === were) out.push('It has lost its colour: red, green and blue are equal.');
  return out;
}

/** Channels of colour, alpha apart. */
const colours = ({ channels }: SourceFacts) => (channels < 3 ? 1 : 3);

function all(alpha: SourceFacts['alpha']): string {
  return alpha === 'opaque' ? ' all opaque' : alpha === 'transparent' ? ' all transparent' : '';
}
