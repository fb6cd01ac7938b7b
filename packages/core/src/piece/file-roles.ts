import type { SourceRole } from './piece-doc.ts';

/** Endings of file names by which artists say what a picture is for (common practice). A person may change the list. */
export type Endings = Readonly<Record<NamedRole, readonly string[]>>;
export type NamedRole = Exclude<SourceRole, 'reference'>;

export const ROLE_ENDINGS: Endings = {
  colour: ['colour', 'color', 'col', 'albedo', 'diffuse', 'diff', 'base', 'basecolor', 'c', 'd', 'rgb'],
  mask: ['mask', 'alpha', 'opacity', 'opac', 'cutout', 'm', 'a', 'o'],
  'other backdrop': ['dark', 'light', 'black', 'white', 'pale', 'bg', 'backdrop'],
  height: ['height', 'disp', 'displacement', 'h', 'bump', 'depth'],
  normal: ['normal', 'normals', 'norm', 'nrm', 'nor', 'n', 'normalgl', 'normaldx'],
  lit: ['lit'],
  roughness: ['roughness', 'rough', 'r'],
  specular: ['specular', 'spec', 's'],
  metalness: ['metalness', 'metallic', 'metal'],
  occlusion: ['occlusion', 'ao', 'occ'],
  translucency: ['translucency', 'translucent', 'trans', 'transmission'],
  thickness: ['thickness', 'thick'],
  dirt: ['dirt', 'wear'],
};

/** What a file name says: `reed_rough.png` holds the roughness of `reed`. A number after the ending counts with it: `reed_lit3`. */
export function readName(fileName: string, endings: Endings = ROLE_ENDINGS): { stem: string; role: NamedRole | null } {
  const bare = fileName.replace(/\.[^.]*$/, '').toLowerCase();
  const match = /^(.+?)[_\-. ,]+([a-z]+)\d*$/.exec(bare);
  if (match) {
    for (const [role, words] of Object.entries(endings)) {
      if (words.includes(match[2])) return { stem: match[1], role: role as NamedRole };
    }
  }
  return { stem: bare, role: null };
}

/** Whether a normal map says by its name that its green points down. */
export function saysGreenDown(fileName: string): boolean {
  return /[_\-. ](normal|nrm|nor|n)?_?dx\.[^.]*$/i.test(fileName);
}

/** A file and what it is taken for in its piece. */
export interface NamedFile<T> {
  file: T;
  role: SourceRole;
}

/**
 * Groups files that belong together by name, the colour picture first; all others stand alone. Two on a dark and a light
 * backdrop are one piece, too, and photographs under three lights or more.
 */
export function groupByName<T extends { fileName: string }>(
  files: readonly T[],
  endings: Endings = ROLE_ENDINGS,
): NamedFile<T>[][] {
  const stems = new Map<string, { file: T; role: NamedRole | null }[]>();
  for (const file of files) {
    const { stem, role } = readName(file.fileName, endings);
    stems.set(stem, [...(stems.get(stem) ?? []), { file, role }]);
  }
  return [...stems.values()].flatMap((files) => groupsOfStem(files));
}

function groupsOfStem<T>(files: readonly { file: T; role: NamedRole | null }[]): NamedFile<T>[][] {
  const alone = (list: typeof files) => list.map(({ file }) => [{ file, role: 'colour' as const }]);
  const named = files.filter(({ role }) => role !== null && role !== 'colour');
  const colours = files.filter((f) => !named.includes(f));
  const [colour, ...others] = colours;
  if (colour) {
    if (named.length === 0) return alone(colours);
    return [[{ file: colour.file, role: 'colour' }, ...named.map(asNamed)], ...alone(others)];
  }
  const first = named.find(({ role }) => role === 'other backdrop' || role === 'lit');
  const same = named.filter(({ role }) => role === first?.role).length;
  if (!first || same < (first.role === 'lit' ? 3 : 2)) return alone(named);
  return [[{ file: first.file, role: 'colour' }, ...named.filter((f) => f !== first).map(asNamed)]];
}

const asNamed = <T>({ file, role }: { file: T; role: NamedRole | null }): NamedFile<T> => ({
  file,
  role: role ?? 'colour',
});
