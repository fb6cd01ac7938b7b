import 'fake-indexeddb/auto';
import { beforeEach, expect, jest, test } from '@jest/globals';
import type { Edit, Piece } from '@lithe-sieve/contract';
import { describeSource, makeStep, PIECE_DEFAULTS, type PieceDoc } from '@lithe-sieve/core';
import { applyPatches, enablePatches, type Patch } from 'immer';
import { IDBFactory } from 'fake-indexeddb';

enablePatches();
const leaf: PieceDoc = { ...PIECE_DEFAULTS, name: 'Leaf', sources: [], run: [] };
const cutoff = (value: number) => (doc: PieceDoc) => ({ ...doc, material: { ...doc.material, cutoff: value } });

/** A server with the pieces of a test, behind `fetch`. */
const server = {
  pieces: new Map<string, Piece>(),
  /** Answers 500 to every change. */
  fails: false,
  /** Hears changes, and never answers them: the page that sent one is gone. */
  silent: false,
  heard: 0,
  /** Holds a piece back. */
  waits: new Map<string, Promise<void>>(),
};

async function answer(path: string, body: unknown): Promise<[number, unknown]> {
  if (path.endsWith('/facts')) return [200, FACTS];
  const [, id, what] = /^\/api\/pieces\/([^/]+)(?:\/(\w+))?$/.exec(path)!;
  if (id === 'copies') {
    const { id: copy, doc } = body as { id: string; doc: PieceDoc };
    server.pieces.set(copy, pieceOf(copy, doc));
    return [201, { id: copy }];
  }
  await server.waits.get(id);
  const piece = server.pieces.get(id)!;
  if (what !== 'edits') return [200, piece];
  const edit = body as Edit;
  if (server.fails) return [500, {}];
  if (server.silent) {
    server.heard += 1;
    await new Promise(() => undefined);
  }
  if (edit.baseRevision !== piece.revision) return [409, { code: 'stale', message: 'Changed elsewhere.', remedy: '' }];
  const { history, position } = piece;
  const entry = edit.kind === 'do' ? edit.entry : history[edit.kind === 'undo' ? position - 1 : position];
  const doc = applyPatches(piece.doc, (edit.kind === 'undo' ? entry.inverse : entry.patches) as Patch[]);
  const at = position + (edit.kind === 'undo' ? -1 : 1);
  server.pieces.set(id, {
    ...piece,
    doc,
    revision: piece.revision + 1,
    history: edit.kind === 'do' ? [...history.slice(0, position), entry] : history,
    position: at,
    lastEdits: [...piece.lastEdits, edit.editId!],
  });
  return [200, { revision: piece.revision + 1, position: at }];
}

const FACTS = describeSource({
  format: 'png',
  raster: { width: 2, height: 2, channels: 3, data: new Uint8Array(12) },
  bitDepth: 8,
  palette: false,
  notes: [],
});

const pieceOf = (id: string, doc: PieceDoc) =>
  ({ id, doc, revision: 1, history: [], position: 0, facts: {}, lastEdits: [], problem: null }) as unknown as Piece;

/** A page of its own: fresh modules, on the same storage and the same server. */
async function page() {
  jest.resetModules();
  const { createPinia, setActivePinia } = await import('pinia');
  setActivePinia(createPinia());
  const open = await import('../src/stores/open-piece/open-piece');
  const { useSavingStore } = await import('../src/stores/saving.store');
  const { useNoticesStore } = await import('../src/stores/notices.store');
  return { ...open, piece: open.openPiece().piece, saving: useSavingStore(), notices: useNoticesStore() };
}

/** What happens is waited for, not timed. */
async function until(holds: () => boolean): Promise<void> {
  for (let i = 0; !holds(); i++) {
    if (i > 400) throw new Error('It did not come to that.');
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
}

const ofServer = (id = 'sea-leaf') => server.pieces.get(id)!;

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  globalThis.structuredClone ??= ((value: unknown) =>
    JSON.parse(JSON.stringify(value)) as unknown) as typeof structuredClone;
  Object.assign(server, { fails: false, silent: false, heard: 0, waits: new Map() });
  server.pieces = new Map(['sea-leaf', 'cordgrass'].map((id) => [id, pieceOf(id, { ...leaf, name: id })]));
  globalThis.fetch = async (input, init) => {
    const text = init?.body as string | undefined;
    const [status, body] = await answer(input as string, text ? JSON.parse(text) : null);
    return { ok: status < 300, status, json: () => Promise.resolve(body) } as Response;
  };
});

test('a drag is one change; it is undone and redone, here and on the server', async () => {
  const { piece, saving } = await page();
  await piece.open('sea-leaf');
  piece.begin();
  for (const value of [0.2, 0.3, 0.4]) piece.preview(cutoff(value));
  expect([piece.material?.cutoff, saving.isAllSaved()]).toEqual([0.4, true]);
  piece.finish('Cutoff');
  expect([piece.undoLabel, piece.canRedo]).toEqual(['Cutoff', false]);
  piece.undo();
  expect([piece.material?.cutoff, piece.redoLabel]).toEqual([leaf.material.cutoff, 'Cutoff']);
  piece.redo();
  await until(() => saving.isAllSaved());
  expect([ofServer().doc.material.cutoff, ofServer().revision, piece.revision()]).toEqual([0.4, 4, 4]);
});

test('an abandoned gesture and a change that is not valid leave everything as it was', async () => {
  const { piece, saving, notices } = await page();
  await piece.open('sea-leaf');
  const before = piece.doc;
  piece.preview(cutoff(0.9));
  piece.abandon();
  piece.edit('Cutoff', cutoff(7));
  expect([piece.doc, piece.canUndo, saving.isAllSaved()]).toEqual([before, false, true]);
  expect(notices.all.map((n) => n.text)).toEqual(['“Cutoff” was not applied: the result would not be valid.']);
});

test('what is pointed at shows and is no part of the piece: an edit meanwhile is that edit alone', async () => {
  const { piece, saving } = await page();
  await piece.open('sea-leaf');
  const before = piece.doc;
  piece.glanceAt(cutoff(0.9));
  expect([piece.material?.cutoff, piece.glancing, piece.canUndo, saving.isAllSaved()]).toEqual([
    0.9,
    true,
    false,
    true,
  ]);
  piece.glanceAt(null);
  expect([piece.doc, piece.glancing]).toEqual([before, false]);
  piece.glanceAt(cutoff(0.8));
  piece.edit('Rename', (doc) => ({ ...doc, name: 'Dune leaf' }));
  expect([piece.doc?.name, piece.material?.cutoff, piece.glancing]).toEqual(['Dune leaf', leaf.material.cutoff, false]);
  await until(() => saving.isAllSaved());
  expect([ofServer().doc.name, ofServer().doc.material.cutoff]).toEqual(['Dune leaf', leaf.material.cutoff]);
  piece.begin();
  piece.preview(cutoff(0.3));
  piece.glanceAt(cutoff(0.7)); // a drag goes on
  expect([piece.material?.cutoff, piece.glancing]).toEqual([0.3, false]);
  piece.abandon();
});

test('a piece that is left while its changes wait is opened as it was left, and goes on from there', async () => {
  const { piece, saving } = await page();
  await piece.open('sea-leaf');
  server.fails = true;
  piece.edit('Cutoff', cutoff(0.3));
  await until(() => saving.state.kind === 'waiting');
  await piece.open('cordgrass');
  expect(piece.doc?.name).toBe('cordgrass');
  await piece.open('sea-leaf');
  expect([piece.material?.cutoff, piece.undoLabel, piece.isSaved()]).toEqual([0.3, 'Cutoff', false]);
  piece.edit('Cutoff', cutoff(0.6));
  piece.close();
  server.fails = false;
  saving.tryNow();
  await until(() => saving.isAllSaved());
  expect([ofServer().doc.material.cutoff, ofServer().history.length, server.pieces.size]).toEqual([0.6, 2, 2]);
  await piece.open('sea-leaf');
  expect([piece.material?.cutoff, piece.revision()]).toEqual([0.6, 3]);
});

test('of two pieces that are asked for, the last one is shown, whichever comes first', async () => {
  const { piece } = await page();
  let go = () => {};
  server.waits.set('sea-leaf', new Promise((resolve) => (go = resolve)));
  const slow = piece.open('sea-leaf');
  await piece.open('cordgrass');
  go();
  await slow;
  expect([piece.id, piece.doc?.name]).toEqual(['cordgrass', 'cordgrass']);
});

test('back at the piece that is open while another one is on its way, it stays', async () => {
  const { piece } = await page();
  await piece.open('sea-leaf');
  let go = () => {};
  server.waits.set('cordgrass', new Promise((resolve) => (go = resolve)));
  const slow = piece.open('cordgrass');
  await piece.open('sea-leaf');
  go();
  await slow;
  expect([piece.id, piece.doc?.name]).toEqual(['sea-leaf', 'sea-leaf']);
});

/** A page that changes the leaf, and is gone before the server answers. */
async function closeUnsaved(): Promise<void> {
  const { piece } = await page();
  await piece.open('sea-leaf');
  server.silent = true;
  piece.edit('Cutoff', cutoff(0.3));
  await until(() => server.heard === 1);
  server.silent = false;
}

test('what a page that is gone had not saved is done again by the next one', async () => {
  await closeUnsaved();
  const { piece, saving } = await page();
  await piece.open('sea-leaf');
  expect([piece.material?.cutoff, piece.undoLabel]).toEqual([0.3, 'Cutoff']);
  await until(() => saving.isAllSaved());
  expect([ofServer().doc.material.cutoff, ofServer().revision]).toEqual([0.3, 2]);
});

test('where the piece was changed since, it becomes a piece of its own, and this is said', async () => {
  await closeUnsaved();
  server.pieces.set('sea-leaf', { ...ofServer(), revision: 2, doc: cutoff(0.8)(ofServer().doc) });
  const { piece, notices } = await page();
  await piece.open('sea-leaf');
  expect(piece.material?.cutoff).toBe(0.8);
  await until(() => server.pieces.size === 3 && notices.all.length > 0);
  const copy = [...server.pieces.values()].at(-1)!;
  expect([copy.doc.name, copy.doc.material.cutoff]).toEqual(['sea-leaf (other tab)', 0.3]);
  expect(notices.all[0]).toMatchObject({ link: { pieceId: copy.id } });
});

test('what does not go through becomes a separate piece when that is asked for, with all of it', async () => {
  const { piece, saving, notices } = await page();
  await piece.open('sea-leaf');
  server.fails = true;
  piece.edit('Cutoff', cutoff(0.3));
  await until(() => saving.state.kind === 'waiting');
  piece.edit('Cutoff', cutoff(0.4));
  saving.keepAsCopies();
  await until(() => saving.isAllSaved() && server.pieces.size === 3);
  expect([...server.pieces.values()].at(-1)!.doc.material.cutoff).toBe(0.4);
  expect([ofServer().revision, piece.material?.cutoff]).toEqual([1, leaf.material.cutoff]); // the newest saved one is shown
  expect(notices.all[0].link?.label).toBe('a separate piece');
});

test('facts of a source that comes back by undo are fetched', async () => {
  const sha256 = 'a'.repeat(64);
  const sources = [{ id: 'first-source', sha256, fileName: 'leaf.png' }];
  const gone = {
    label: 'Remove leaf.png',
    patches: [{ op: 'replace' as const, path: ['sources'], value: [] }],
    inverse: [{ op: 'replace' as const, path: ['sources'], value: sources }],
  };
  server.pieces.set('sea-leaf', { ...ofServer(), history: [gone], position: 1 });
  const { piece, saving } = await page();
  await piece.open('sea-leaf');
  expect([piece.sources.length, piece.wasUndone(sha256)]).toEqual([0, false]);
  piece.undo();
  await until(() => piece.facts.has(sha256) && saving.isAllSaved());
  expect([piece.sources, ofServer().doc.sources]).toEqual([sources, sources]);
});

test('two pieces are open at once, each with its document, its undo and what is computed of it', async () => {
  const { openPiece, piece: onBench, saving } = await page();
  const [leaf2, grass] = [openPiece('left'), openPiece('right')];
  await Promise.all([leaf2.piece.open('sea-leaf'), grass.piece.open('cordgrass')]);
  leaf2.piece.edit('Cutoff', cutoff(0.3));
  expect([leaf2.piece.material?.cutoff, grass.piece.material?.cutoff]).toEqual([0.3, leaf.material.cutoff]);
  expect([leaf2.piece.canUndo, grass.piece.canUndo, onBench.doc]).toEqual([true, false, null]);
  grass.piece.edit('Cutoff', cutoff(0.7));
  leaf2.piece.undo();
  leaf2.clip.looksAsked.levels = true;
  leaf2.engine.showsFit = false;
  expect([grass.clip.looksAsked.levels, grass.engine.showsFit]).toEqual([false, true]);
  await until(() => saving.isAllSaved());
  expect([ofServer().doc.material.cutoff, ofServer('cordgrass').doc.material.cutoff]).toEqual([
    leaf.material.cutoff,
    0.7,
  ]);
  leaf2.close();
  expect([leaf2.piece.id, grass.piece.id, openPiece('right').piece.material?.cutoff]).toEqual(['', 'cordgrass', 0.7]);
});

test('components show the piece that those around them provide, and the Bench’s where none does', async () => {
  const { openPiece, providePiece, usePiece } = await page();
  const flags = ['__VUE_OPTIONS_API__', '__VUE_PROD_DEVTOOLS__', '__VUE_PROD_HYDRATION_MISMATCH_DETAILS__']; // Vite sets them
  for (const flag of flags) Object.assign(globalThis, { [flag]: false });
  const { createApp, h } = await import('vue');
  const { getActivePinia } = await import('pinia');
  await Promise.all([openPiece().piece.open('sea-leaf'), openPiece('right').piece.open('cordgrass')]);
  const Named = {
    setup: () =>
      (
        (piece) => () =>
          piece.doc!.name
      )(usePiece()),
  };
  const Right = { setup: () => (providePiece(openPiece('right')), () => h(Named)) };
  const root = document.createElement('div');
  const app = createApp({ render: () => [h(Named), ' ', h(Right)] }).use(getActivePinia()!);
  app.mount(root);
  expect(root.textContent).toBe('sea-leaf cordgrass');
  app.unmount();
});

test('what is left out of one piece is no matter of another', async () => {
  const { notices } = await page();
  const { useHeldBackStore } = await import('../src/stores/held-back.store');
  const heldBack = useHeldBackStore();
  const step = makeStep('slow', 'levels');
  const doc = { ...leaf, run: [step] };
  const { underWayAt } = await import('../src/engine/under-way');
  const now = underWayAt(doc, 'slow')!;
  expect(heldBack.hold('sea-leaf', doc, now, 'tab', () => undefined)).toBe(true);
  expect(heldBack.of('cordgrass', { ...leaf, run: [] })).toBeNull();
  expect(heldBack.of('sea-leaf', doc)?.of.id).toBe('slow');
  heldBack.release('sea-leaf');
  expect([heldBack.of('sea-leaf', doc), notices.all]).toEqual([null, []]);
});
