import { NAME_LIMITS, type NAME_PARTS, NAME_WORDS, NO_FACTS, SCENE_PATTERN, type NameFacts } from '../piece/naming.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';

const FALLBACK = 'piece';

/** What the parts of a pattern stand for. */
export interface Named {
  /** What {map} stands for. */
  slot: string;
  /** Texels. */
  size: { width: number; height: number };
  facts?: NameFacts;
}

function filled(pattern: string, doc: PieceDoc, name: string, { slot, size, facts = NO_FACTS }: Named): string {
  const { material, sides, handOff } = doc;
  const words = { ...NAME_WORDS, ...handOff.naming?.words };
  const values: Record<(typeof NAME_PARTS)[number], string> = {
    '{piece}': name,
    '{map}': slot,
    '{mode}': words[material.mode],
    '{sides}': words[material.doubleSided || sides ? 'two-sided' : 'one-sided'],
    '{size}': String(Math.max(size.width, size.height)),
    '{width}': String(size.width),
    '{height}': String(size.height),
    '{revision}': String(facts.revision),
    '{date}': facts.date,
  };
  return pattern.replace(/\{[a-z]+\}/g, (part) => (part in values ? values[part as keyof typeof values] : part));
}

/**
 * The name of one file without its extension. Only letters, digits, `_`, `-` and `.` of ASCII come out, since there
 * are targets that read no others (common practice); accents are dropped, all else becomes `-`.
 */
export function fileStem(doc: PieceDoc, named: Named): string {
  const whole = filled(doc.handOff.pattern, doc, plain(doc.name) || FALLBACK, named);
  const name = plain(plain(whole).slice(0, NAME_LIMITS.pattern)) || FALLBACK;
  return isDeviceName(name) ? `${FALLBACK}-${name}` : name;
}

/** What a material or a mesh is called inside a file: any character, since formats that know fewer make their own of it. */
export function sceneName(doc: PieceDoc, what: 'material' | 'mesh', named: Omit<Named, 'slot'>): string {
  const { [what]: pattern = SCENE_PATTERN } = doc.handOff.naming ?? {};
  return (
    filled(pattern, doc, doc.name, { ...named, slot: what })
      .slice(0, NAME_LIMITS.pattern)
      .trim() || doc.name
  );
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
