import type { NamedFile, SourceRole } from '@lithe-sieve/core';
import type { StoredSource } from '@lithe-sieve/contract';
import { shallowRef } from 'vue';

/** A file of a drop: which piece it goes to, and what it is taken for there. */
export interface Placed {
  fileName: string;
  piece: number;
  role: SourceRole;
}

/** What was recognised in a drop, for a person to agree to; null takes every file as a piece of its own. */
export interface GroupOffer {
  files: Placed[];
  /** What each file is once it has arrived; null where it did not. */
  arrived: Promise<StoredSource | null>[];
  answer(files: Placed[] | null): void;
}

/** Which files of a drop belong together, as a person agrees. */
export function useGrouping() {
  const offer = shallowRef<GroupOffer | null>(null);

  /** Asked once, and only where files belong together. Layered files, the last ones, stay together. */
  async function decided<T extends { fileName: string }>(
    groups: NamedFile<T>[][],
    layered: number,
    sending: (file: T) => Promise<StoredSource | null>,
  ): Promise<NamedFile<T>[][]> {
    const open = groups.slice(0, groups.length - layered);
    if (open.every((group) => group.length < 2)) return groups;
    const all = open.flatMap((group, piece) => group.map(({ file, role }) => ({ file, role, piece })));
    const answer = await ask(
      all.map(({ file, role, piece }) => ({ fileName: file.fileName, role, piece })),
      all.map(({ file }) => sending(file)),
    );
    const placed =
      answer ?? all.map(({ file }, piece) => ({ fileName: file.fileName, role: 'colour' as const, piece }));
    const pieces = new Map<number, NamedFile<T>[]>();
    for (const [i, { piece, role }] of placed.entries()) {
      pieces.set(piece, [...(pieces.get(piece) ?? []), { file: all[i].file, role }]);
    }
    const colourFirst = (group: NamedFile<T>[]) =>
      [...group].sort((a, b) => Number(b.role === 'colour') - Number(a.role === 'colour'));
    return [...[...pieces.values()].map(colourFirst), ...groups.slice(groups.length - layered)];
  }

  function ask(files: Placed[], arrived: Promise<StoredSource | null>[]): Promise<Placed[] | null> {
    return new Promise((resolve) => {
      const answer = (agreed: Placed[] | null) => {
        offer.value = null;
        resolve(agreed);
      };
      offer.value = { files, arrived, answer };
    });
  }

  return { offer, decided };
}
