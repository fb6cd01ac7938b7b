import { holds } from '../sieve/levels.ts';
import type { SnagCheck } from './snag.ts';

/** Alpha that is reshaped for a hard clip, drawn in a way that shows every alpha in part. */
export const heldNotHard: SnagCheck = ({ doc }) => {
  const { by } = doc.drawn;
  if (!holds(doc.material, doc.levels) || (by !== 'hashed' && by !== 'ordered')) return null;
  return {
    id: 'held-not-hard',
    text: `Alpha is held for a hard clip. Drawn ${by === 'hashed' ? 'hashed' : 'dithered'}, what is dropped shows in part, as dust.`,
    remedy: { label: 'Leave alpha as it is', apply: (d) => ({ ...d, levels: { ...d.levels, hold: false } }) },
  };
};
