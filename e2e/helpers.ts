import { readFileSync } from 'node:fs';
import { deflateSync, inflateSync } from 'node:zlib';
import { expect, type Page } from '@playwright/test';
import type { Piece } from '@lithe-sieve/contract';
import {
  evaluateRun,
  readPng,
  writePng,
  type Picture,
  type PieceDoc,
  type Raster,
  type RunResult,
  type RunSource,
  type Stroke,
} from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { unzipSync } from 'fflate';

export interface TestFile {
  name: string;
  bytes: Uint8Array;
}

export async function pngFile(name: string, raster: Raster): Promise<TestFile> {
  return {
    name,
    bytes: await writePng(raster, (strips) => Promise.resolve(new Uint8Array(deflateSync(Buffer.concat([...strips]))))),
  };
}

export async function decodePng(bytes: Uint8Array): Promise<Raster> {
  const inflate = (parts: Uint8Array[]) => Promise.resolve(new Uint8Array(inflateSync(Buffer.concat(parts))));
  return (await readPng(bytes, { inflate })).raster as Raster;
}

/** Drops files on the page as a person does: through a DataTransfer. */
export async function dropFiles(page: Page, files: TestFile[]): Promise<void> {
  const plain = files.map(({ name, bytes }) => ({ name, text: Buffer.from(bytes).toString('base64') }));
  const transfer = await page.evaluateHandle((list) => {
    const data = new DataTransfer();
    for (const { name, text } of list) {
      const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
      data.items.add(new File([bytes], name));
    }
    return data;
  }, plain);
  await page.locator('.drop-area').dispatchEvent('dragenter', { dataTransfer: transfer });
  await page.locator('.drop-area').dispatchEvent('drop', { dataTransfer: transfer });
}

/** Until the full size is computed and everything is saved. */
export async function settled(page: Page): Promise<void> {
  await expect(page.getByTestId('ladder').locator('li').first()).toBeVisible();
  await expect(page.getByText('computing in full…')).toHaveCount(0);
  await expect(page.getByTestId('save-state')).toHaveText('saved');
}

/** What a look gives once it gives the same so many times over: a view that waits its turn is drawn by then. */
export async function steady<T>(look: () => Promise<T>, times = 3): Promise<T> {
  let last = await look();
  let same = 0;
  await expect
    .poll(
      async () => {
        const now = await look();
        same = JSON.stringify(now) === JSON.stringify(last) ? same + 1 : 0;
        last = now;
        return same;
      },
      { intervals: [250] },
    )
    .toBeGreaterThanOrEqual(times - 1);
  return last;
}

/** By search, as in a Stock of many pieces: only those in view are in the page. */
export async function openFromStock(page: Page, name: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Search pieces' }).fill(name);
  await page.getByRole('link', { name: `Open ${name}`, exact: true }).click();
}

export async function openDemo(page: Page, name: string): Promise<void> {
  await page.goto('/');
  await openFromStock(page, name);
  await settled(page);
}

/** Types a number into a field and leaves it. */
export async function typeNumber(page: Page, label: string, value: string): Promise<void> {
  const field = page.getByRole('spinbutton', { name: label, exact: true }).first();
  await field.fill(value);
  await field.press('Enter');
}

export async function downloadZip(page: Page): Promise<Record<string, Uint8Array>> {
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('zip').click()]);
  return unzipSync(new Uint8Array(readFileSync(await download.path())));
}

interface CardJson {
  materials: { alphaMode?: string; alphaCutoff?: number; doubleSided?: boolean }[];
  images: { bufferView: number }[];
  bufferViews: { byteOffset: number; byteLength: number }[];
}

/** The JSON of a GLB and the image inside. */
export function openGlb(bytes: Uint8Array): { json: CardJson; image: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(12, true);
  const json = JSON.parse(Buffer.from(bytes.subarray(20, 20 + length)).toString('utf8')) as CardJson;
  const { byteOffset, byteLength } = json.bufferViews[json.images[0].bufferView];
  const start = 28 + length + byteOffset;
  return { json, image: bytes.subarray(start, start + byteLength) };
}

/** Points of the Sheet, in shares of the picture: backdrop, edges, holes and the middle of the leaf. */
const PLACES = [0.06, 0.5, 0.57];

export async function choose(page: Page, testId: string, option: string): Promise<void> {
  await page.getByTestId(testId).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** A piece in a list of pieces, which names each with its picture and when it was changed. */
export async function choosePiece(page: Page, testId: string, name: string): Promise<void> {
  await page.getByTestId(testId).click();
  await page.getByRole('option', { name: new RegExp(`^${name} ?(changed|handed off) `) }).click();
}

/** Where a place of the picture is seen on the fitted Sheet. */
export async function seenAt(page: Page, u: number, v: number): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('sheet').boundingBox())!;
  const side = Math.min(box.width, box.height - 64) * 0.96;
  return { x: box.x + box.width / 2 + (u - 0.5) * side, y: box.y + box.height / 2 + (v - 0.5) * side };
}

export async function touch(page: Page, u: number, v: number): Promise<void> {
  const { x, y } = await seenAt(page, u, v);
  await page.mouse.click(x, y);
  await settled(page);
}

export async function scribble(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  const [a, b] = [await seenAt(page, ...from), await seenAt(page, ...to)];
  await page.mouse.move(a.x, a.y);
  await page.mouse.down();
  await page.mouse.move(b.x, b.y, { steps: 6 });
  await page.mouse.up();
  await settled(page);
}

/** Of the server that the page is from. */
function pieceAddress(page: Page): string {
  const { origin, pathname } = new URL(page.url());
  return `${origin}/api/pieces/${pathname.split('/').pop()!}`;
}

export async function docOf(page: Page): Promise<PieceDoc> {
  const answer = await page.request.get(pieceAddress(page));
  return ((await answer.json()) as { doc: PieceDoc }).doc;
}
export const runOf = async (page: Page): Promise<PieceDoc['run']> => (await docOf(page)).run;
export const sourcesOf = async (page: Page): Promise<PieceDoc['sources']> => (await docOf(page)).sources;

/** All that was done by hand in the piece of the page. */
export async function strokesOf(page: Page): Promise<Stroke[]> {
  return (await (await page.request.get(`${pieceAddress(page)}/strokes`)).json()) as Stroke[];
}

/** The run of the page, computed here from what the server has stored. */
export async function computed(
  page: Page,
  sources: RunSource[],
  tip: (sha256: string) => Picture | undefined = () => undefined,
): Promise<RunResult> {
  const strokes = new Map((await strokesOf(page)).map((s) => [s.id, s]));
  return evaluateRun(await runOf(page), { sources, strokes, tip });
}

/** Texels as the Sheet reads them out, against the same run computed here. */
export async function expectTexels(
  page: Page,
  sources: RunSource[],
  tip?: (sha256: string) => Picture | undefined,
): Promise<void> {
  await settled(page);
  const { mask, colour, steps } = await computed(page, sources, tip);
  const { width } = sources[0].picture;
  expect(steps.filter((s) => s.error)).toEqual([]);
  for (const [j, v] of PLACES.entries()) {
    for (const [i, u] of PLACES.entries()) {
      if ((i + j) % 2 === 1) continue; // every row and column, as a chessboard
      const { x, y } = await seenAt(page, u, v);
      await page.mouse.move(x, y);
      const said = await page.getByTestId('readout').innerText();
      const found = /texel (\d+), (\d+) +RGB (\d+ \d+ \d+) +alpha ([\d.]+)/.exec(said);
      expect(found, said).not.toBeNull();
      const at = Number(found![2]) * width + Number(found![1]);
      expect(found![4], said).toBe((mask.data[at] / 255).toFixed(3));
      expect(found![3], said).toBe([...colour.data.subarray(4 * at, 4 * at + 3)].join(' '));
    }
  }
}

/** What a test asks the server for itself: each page that need not be opened saves seconds. */
export async function ask<T>(page: Page, method: 'get' | 'post', path: string, data?: unknown): Promise<T> {
  const answer = await page.request[method](path, { data });
  expect(answer.ok(), `${path} ${answer.status()}`).toBe(true);
  return (await answer.json()) as T;
}

/** Opens a new small piece: a scan of a leaf, its backdrop's colour dropped, then bled. */
export const openLeaf = (page: Page): Promise<void> => openNew(page, 'small_leaf.png', drawLeafScan(31, 256).colour);

/** Opens a new piece of one picture, its run as it starts, or as a test changes that. */
export async function openNew(
  page: Page,
  name: string,
  picture: Raster,
  run?: (starting: PieceDoc['run']) => PieceDoc['run'],
  base = '',
): Promise<void> {
  const { id, doc, revision } = await addPiece(page, name, picture, base);
  if (run) {
    const replace = (value: PieceDoc['run']) => [{ op: 'replace', path: ['run'], value }];
    const entry = { label: 'As the test begins', patches: replace(run(doc.run)), inverse: replace(doc.run) };
    await ask(page, 'post', `${base}/api/pieces/${id}/edits`, { kind: 'do', baseRevision: revision, entry });
  }
  await page.goto(`${base}/bench/${id}`);
  await settled(page);
}

/** A new piece of one picture in the Stock. */
export async function addPiece(page: Page, name: string, picture: Raster, base = ''): Promise<Piece> {
  const { bytes } = await pngFile(name, picture);
  const upload = `${base}/api/sources?name=${name}`;
  const { sha256 } = await ask<{ sha256: string }>(page, 'post', upload, Buffer.from(bytes));
  const piece = { name: name.replace('.png', ''), sources: [{ sha256, fileName: name }] };
  const { id } = await ask<{ id: string }>(page, 'post', `${base}/api/pieces`, piece);
  return ask<Piece>(page, 'get', `${base}/api/pieces/${id}`);
}

/** For which target a piece is handed off, on its screen. */
export async function chooseProfile(page: Page, id: string): Promise<void> {
  await page.getByTestId('profile').click();
  await page.getByTestId(`profile-${id}`).click();
  await expect(page.getByTestId(`profile-${id}`)).toHaveCount(0);
}
