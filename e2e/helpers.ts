import { readFileSync } from 'node:fs';
import { deflateSync, inflateSync } from 'node:zlib';
import { expect, type Page } from '@playwright/test';
import { readPng, writePng, type Raster } from '@lithe-sieve/core';
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

export async function openDemo(page: Page, name: string): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: `Open ${name}`, exact: true }).click();
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
  materials: unknown;
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
