import {
  cutText,
  groupByName,
  guessRole,
  LIMITS,
  READABLE_EXTENSIONS,
  readName,
  type NamedFile,
  type SourceRole,
} from '@lithe-sieve/core';
import type { StoredSource } from '@lithe-sieve/contract';
import { defineStore } from 'pinia';
import { createPiece } from '../api/pieces.api';
import { makeId } from '../document/ids';
import { readyProposer } from '../engine/proposer';
import { tellTiming } from '../engine/timing';
import { useArrivals } from './bring-in/arrivals';
import { useGrouping } from './bring-in/grouping';
import { LAYERED_EXTENSION, useLayers } from './bring-in/layers';
import { readEndings } from './endings';
import { chooseFiles } from './files';
import { useEngine, usePiece } from './open-piece/open-piece';

export const ACCEPTED = [...READABLE_EXTENSIONS, LAYERED_EXTENSION].join(',');

/** Files dropped or chosen, until they are pieces or sources. */
export const useBringInStore = defineStore('bring-in', () => {
  const engine = useEngine();
  const piece = usePiece();
  const { arrivals, failAs, sayNoRoom, sender, sendMesh, dismiss } = useArrivals();
  const { apart, placeOf } = useLayers(() => engine.engine(), failAs);
  const { offer, decided } = useGrouping();

  /** Each file, or each pair that is taken as one, becomes a piece. Resolves to their ids. */
  async function asPieces(files: File[]): Promise<string[]> {
    tellTiming('dropped');
    readyProposer();
    const { layered, flat } = await apart(files);
    const named = (list: File[]) => list.map((file) => ({ fileName: file.name, file }));
    const grouped = [...groupByName(named(flat), readEndings()), ...layered.map((files) => named(files).map(unsaid))];
    const early = grouped.length === 1 ? prepare(grouped[0][0].file.file) : null;
    const sent = new Map<File, Promise<StoredSource | null>>();
    const send = sender();
    for (const { file } of grouped.flat()) sent.set(file.file, send(file.file));
    const ids: string[] = [];
    for (const group of await decided(grouped, layered.length, ({ file }) => sent.get(file)!)) {
      const stored = await arrived(
        group.map(({ file }) => file.file),
        (file) => sent.get(file)!,
      );
      const roles = new Map(group.map(({ file, role }) => [file.fileName, role]));
      if (stored.length === 0) continue;
      await early;
      const isLayered = layered.some((files) => files[0] === group[0].file.file);
      const first = group[0].file.fileName;
      const bare = isLayered ? first.slice(0, first.lastIndexOf(', ')) : first;
      const name = pieceName(bare, !isLayered && group.length > 1);
      sayNoRoom(
        name,
        stored.slice(LIMITS.sources).map((s) => s.fileName),
      );
      try {
        const sources = stored.slice(0, LIMITS.sources).map(({ sha256, fileName, place }, i) => ({
          sha256,
          fileName,
          ...roleTold(i, roles.get(fileName)),
          ...place,
        }));
        ids.push((await createPiece(name, sources)).id);
      } catch (error) {
        failAs(first, error);
      }
    }
    return ids;
  }

  /** What of these files is stored, with the place of those that are layers. */
  async function arrived(files: readonly File[], send: (file: File) => Promise<StoredSource | null>) {
    const all = await Promise.all(files.map(send));
    return all.flatMap((stored, i) => {
      const place = placeOf(files[i]);
      return stored ? [{ ...stored, place: place ? { place } : {} }] : [];
    });
  }

  /** Further sources of the open piece: one undoable change. */
  async function asSources(all: File[]): Promise<void> {
    const { layered, flat } = await apart(all);
    const files = [...flat, ...layered.flat()];
    const room = LIMITS.sources - piece.sources.length;
    const send = sender();
    const stored = await arrived(files.slice(0, room), send);
    if (!piece.doc) return;
    const left = LIMITS.sources - piece.sources.length; // another drop may have come first
    const late = stored.splice(left);
    sayNoRoom(piece.doc.name, [...late.map((s) => s.fileName), ...files.slice(room).map((f) => f.name)]);
    if (stored.length === 0) return;
    for (const { sha256, facts } of stored) piece.learn(sha256, facts);
    const refs = stored.map(({ sha256, fileName, facts, place }) => ({
      id: makeId(),
      sha256,
      fileName,
      role: guessRole(fileName, facts),
      ...place,
    }));
    const names = refs.map((r) => r.fileName).join(', ');
    piece.edit(refs.length > 1 ? `Add ${refs.length} sources: ${names}` : `Add ${names}`, (doc) => ({
      ...doc,
      sources: [...doc.sources, ...refs],
    }));
  }

  /** One file as a further source, its id to be used by what follows; null where it failed. */
  async function asSource(file: File): Promise<string | null> {
    const before = new Set(piece.sources.map((s) => s.id));
    await asSources([file]);
    return piece.sources.find((s) => !before.has(s.id))?.id ?? null;
  }

  /** Another file in the place of a source: the run and everything else stays. One undoable change. */
  async function replace(sourceId: string, file: File): Promise<void> {
    const stored = await sender()(file);
    if (!stored || !piece.doc) return;
    const { sha256, fileName } = stored;
    piece.learn(sha256, stored.facts);
    piece.edit(`Replace by ${fileName}`, (doc) => ({
      ...doc,
      sources: doc.sources.map((s) => (s.id === sourceId ? { ...s, sha256, fileName } : s)),
    }));
  }

  /** Decodes here while the server still receives and checks: the first full view comes a second sooner. */
  async function prepare(file: File): Promise<void> {
    const secure = 'subtle' in crypto; // not over plain HTTP from another machine
    if (!secure || file.size === 0 || file.size > LIMITS.fileBytes) return;
    try {
      await engine.engine().prepare(file);
    } catch {
      // the server says what is wrong with it
    }
  }

  /** Asks for pictures that become further sources. */
  const chooseSources = async () => asSources(await chooseFiles(ACCEPTED));

  return { arrivals, offer, asPieces, asSource, asSources, chooseSources, replace, sendMesh, dismiss };
});

/** Nothing is known of a layer: the server looks at it. */
const unsaid = <T>(file: T): NamedFile<T> => ({ file, role: 'reference' });
const roleTold = (i: number, role: SourceRole | undefined) => (i > 0 && role && role !== 'reference' ? { role } : {});

/** `mane_colour.png` → Mane colour; of a pair, the stem that both share. */
function pieceName(fileName: string, pair: boolean): string {
  const bare = pair ? readName(fileName).stem : fileName.replace(/\.[^.]*$/, '');
  const words = bare.replace(/[_]+/g, ' ').trim() || 'Piece';
  return cutText(words[0].toUpperCase() + words.slice(1), LIMITS.pieceName);
}
