import type { PieceDoc } from '../piece/piece-doc.ts';
import type { FilePlan } from './file-plan.ts';

/** What a file-name pattern may hold. */
export const NAME_PARTS = ['{piece}', '{map}', '{mode}', '{sides}', '{size}', '{width}', '{height}'] as const;
/** Words by which converters read the mode out of a name (common practice). */
const MODE_WORDS = { opaque: 'opaque', mask: 'masked', blend: 'blend' } as const;
const FALLBACK = 'piece';
const MOST_CHARACTERS = 120;

/**
 * The name of one file without its extension. Only letters, digits, `_`, `-` and `.` of ASCII come out, since there
 * are targets that read no others (common practice); accents are dropped, all else becomes `-`.
 */
export function fileStem(doc: PieceDoc, slot: FilePlan['slot'], size: { width: number; height: number }): string {
  const values: Record<string, string> = {
    '{piece}': plain(doc.name) || FALLBACK,
    '{map}': slot,
    '{mode}': MODE_WORDS[doc.material.mode],
    '{sides}': doc.material.doubleSided || doc.sides ? 'two-sided' : 'one-sided',
    '{size}': String(Math.max(size.width, size.height)),
    '{width}': String(size.width),
    '{height}': String(size.height),
  };
  const filled = doc.handOff.pattern.replace(/\{[a-z]+\}/g, (part) => values[part] ?? part);
  const name = plain(plain(filled).slice(0, MOST_CHARACTERS)) || FALLBACK;
  return isDeviceName(name) ? `${FALLBACK}-${name}` : name;
}

/** Names that stand for devices on some systems, with any extension (common practice: they cannot be files there). */
const DEVICES = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;

function isDeviceName(name: string): boolean {
  return DEVICES.test(name);
}

/** Whether a file of this name can lie on any system, and be written into a header: no device, no control character. */
export function isFileName(name: string): boolean {
  // eslint-disable-next-line no-control-regex -- that is what is looked for
  return name.length > 0 && !isDeviceName(name) && !/[\u0000-\u001f\u007f]/.test(name);
}

function plain(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[.-]+|[.-]+$/g, '');
}
