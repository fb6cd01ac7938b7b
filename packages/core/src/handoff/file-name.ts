import type { PieceDoc } from '../piece/piece-doc.ts';
import type { MapKind } from './profile-id.ts';

/** What a file-name pattern may hold. */
export const NAME_PARTS = ['{piece}', '{map}', '{width}', '{height}'] as const;
const FALLBACK = 'piece';

/**
 * The name of one file without its extension. Only letters, digits, `_`, `-` and `.` of ASCII come out, since there
 * are targets that read no others (common practice); accents are dropped, all else becomes `-`.
 */
export function fileStem(doc: PieceDoc, map: MapKind, size: { width: number; height: number }): string {
  const values: Record<string, string> = {
    '{piece}': plain(doc.name) || FALLBACK,
    '{map}': map,
    '{width}': String(size.width),
    '{height}': String(size.height),
  };
  const filled = doc.handOff.pattern.replace(/\{[a-z]+\}/g, (part) => values[part] ?? part);
  return plain(filled).slice(0, 120) || FALLBACK;
}

function plain(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[.-]+|[.-]+$/g, '');
}
