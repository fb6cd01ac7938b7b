import {
  cutText,
  groupByName,
  guessRole,
  LIMITS,
  READABLE_EXTENSIONS,
  readName,
  type NamedFile,
  type SourcePlace,
  type SourceRole,
} from '@lithe-sieve/core';
import type { StoredSource } from '@lithe-sieve/contract';
import { readEndings } from './endings';
import { chooseFiles } from './files';
import { defineStore } from 'pinia';
import { shallowRef, triggerRef } from 'vue';
import { ApiError } from '../api/http';
import { createPiece } from '../api/pieces.api';
import { uploadSource } from '../api/sources.api';
import { makeId } from '../document/ids';
import { tellTiming } from '../engine/timing';
import { useEngineStore } from './engine.store';
import { usePieceStore } from './piece.store';

/** One file on its way in. */
export interface Arrival {
  id: string;
  fileName: string;
  state: 'waiting' | 'sending' | 'reading' | 'done' | 'failed';
  /** Share that is sent, 0–1. */
  progress: number;
  message: string;
  remedy: string;
  abort: AbortController;
}

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

const LAYERED_EXTENSION = '.ora';
export const ACCEPTED = [...READABLE_EXTENSIONS, LAYERED_EXTENSION].join(',');
const AT_ONCE = 2;

/** Files dropped or chosen, until they are pieces or sources. A bad file never holds up the others. */
export const useBringInStore = defineStore('bring-in', () => {
  const arrivals = shallowRef<Arrival[]>([]);
  const offer = shallowRef<GroupOffer | null>(null);
  const engine = useEngineStore();
  const piece = usePieceStore();
  /** Where layers lie on the canvas of their file. */
  const places = new WeakMap<File, SourcePlace>();

  /** Each file, or each pair that is taken as one, becomes a piece. Resolves to their ids. */
  async function asPieces(files: File[]): Promise<string[]> {
    tellTiming('dropped');
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
      const place = places.get(files[i]);
      return stored ? [{ ...stored, place: place ? { place } : {} }] : [];
    });
  }

  /** Layered files become the files of their layers; one that cannot be read says why. */
  async function apart(files: File[]): Promise<{ layered: File[][]; flat: File[] }> {
    const flat: File[] = [];
    const layered: File[][] = [];
    for (const file of files) {
      if (!file.name.toLowerCase().endsWith(LAYERED_EXTENSION)) flat.push(file);
      else {
        const layers = await layersOf(file);
        if (layers) layered.push(layers);
      }
    }
    return { layered, flat };
  }

  async function layersOf(file: File): Promise<File[] | null> {
    const bare = file.name.slice(0, -LAYERED_EXTENSION.length);
    try {
      const layers = await engine.engine().layersOf(file);
      if (!layers)
        throw new ApiError(415, 'unknown-format', 'It is not a layered picture.', 'Save it as OpenRaster again.');
      return layers.map(({ name, png, place }) => {
        const file = new File([png as BlobPart], `${cutText(`${bare}, ${name}`, LIMITS.fileName - 4)}.png`);
        if (place) places.set(file, place);
        return file;
      });
    } catch (error) {
      failAs(file.name, error);
      return null;
    }
  }

  function failAs(fileName: string, error: unknown): void {
    const { message, remedy = '' } = error as Error & { remedy?: string };
    fail(fileName, `${fileName}: ${message}`, remedy);
  }

  /** Files for which a piece has no room are said by name; the others come in. */
  function sayNoRoom(pieceName: string, names: readonly string[]): void {
    if (names.length === 0) return;
    const message = `A piece holds ${LIMITS.sources} sources. There was no room in “${pieceName}” for ${names.join(', ')}.`;
    fail(names[0], message, 'Remove a source first, or drop them on the Stock as separate pieces.');
  }

  /** A file that did not get as far as being sent. */
  function fail(fileName: string, message: string, remedy: string): void {
    const abort = new AbortController();
    const arrival: Arrival = { id: makeId(), fileName, state: 'failed', progress: 0, message, remedy, abort };
    arrivals.value = [...arrivals.value, arrival];
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

  /** As a person agreed; asked once, and only where files belong together. Layered files, the last ones, stay together. */
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

  /** Sends files, a few at once; resolves to null for one that failed, which then says why. */
  function sender(): (file: File) => Promise<StoredSource | null> {
    const lanes: Promise<unknown>[] = Array.from({ length: AT_ONCE }, () => Promise.resolve());
    let next = 0;
    return (file) => {
      const lane = next++ % AT_ONCE;
      const mine = lanes[lane].then(() => sendOne(file));
      lanes[lane] = mine;
      return mine;
    };
  }

  async function sendOne(file: File): Promise<StoredSource | null> {
    const abort = new AbortController();
    const arrival: Arrival = {
      id: makeId(),
      fileName: file.name,
      state: 'sending',
      progress: 0,
      message: '',
      remedy: '',
      abort,
    };
    arrivals.value = [...arrivals.value, arrival];
    const change = (values: Partial<Arrival>) => {
      Object.assign(arrival, values);
      triggerRef(arrivals);
    };
    try {
      if (file.size > LIMITS.fileBytes) {
        const limit = Math.round(LIMITS.fileBytes / 1024 / 1024);
        throw new ApiError(413, 'too-large', `${file.name}: the file is over ${limit} MB.`, 'Save it smaller.');
      }
      const stored = await uploadSource(
        file,
        (progress) => change({ progress, state: progress < 1 ? 'sending' : 'reading' }),
        abort.signal,
      );
      dismiss(arrival.id);
      return stored;
    } catch (error) {
      const { message, remedy } =
        error instanceof ApiError ? error : { message: `${file.name}: ${String(error)}`, remedy: '' };
      change({ state: 'failed', message, remedy });
      return null;
    }
  }

  function dismiss(id: string): void {
    arrivals.value = arrivals.value.filter((a) => a.id !== id);
  }

  /** Asks for pictures that become further sources. */
  const chooseSources = async () => asSources(await chooseFiles(ACCEPTED));

  return { arrivals, offer, asPieces, asSource, asSources, chooseSources, replace, dismiss };
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
