import { holds } from '../sieve/levels.ts';
import type { SnagCheck } from './snag.ts';

/** Alpha that is reshaped for a hard clip, drawn in a way that shows every alpha in part. */
export const heldNotHard: SnagCheck = ({ doc }) => {
  const { by } = doc.drawn;
  if (!holds(doc.material, doc.levels) || (by !== 'hashed' && by !== 'ordered')) return null;
  return {
    id: 'held-not-hard',
    text: `Dust: alpha is held for a hard clip, but drawn ${by === 'hashed' ? 'hashed' : 'dithered'}, so that what is dropped shows in part.`,
    remedy: { label: 'Leave alpha as it is', apply: (d) => ({ ...d, levels: { ...d.levels, hold: false } }) },
  };
};
