import { expect } from '@playwright/test';
import { cardSurface, makePicture, SKY_LIGHTS, type Behind, type StandLight } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { openCanvas } from './draw-worker.ts';
import { HEIGHT, linear, lit, ON_CANVAS, WIDTH } from './drawn-views.ts';
import { addPiece, choose, choosePiece, openLeaf, pngFile, settled, steady, typeNumber } from './helpers.ts';
import { test } from './test.ts';

const SIDE = 32;
const plain = (v: number, channels: 1 | 4) => ({ width: SIDE, height: SIDE, channels, data: new Uint8Array(channels * SIDE * SIDE).fill(v) }); // prettier-ignore
const at = (pixels: Uint8Array, x: number, y: number) => [...pixels.subarray(4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 3)]; // prettier-ignore

// IEC 61966-2-1 and the Khronos curve, undone: what is behind looks as it is
test('a colour behind the card is shown as it is at any exposure and tone curve', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, plain(0, 1)).mesh);
  await canvas.setMap('colour', plain(255, 4));
  const looks: [colour: [number, number, number], light: Partial<StandLight>][] = [
    [[30, 120, 200], { exposure: 0.7 }],
    [[3, 6, 2], { exposure: -3 }],
    [[250, 20, 240], { exposure: 2 }],
    [[128, 128, 128], { tone: 'none', exposure: 1.5 }],
    [[0, 0, 0], {}],
  ];
  for (const [colour, more] of looks) {
    const behind: Behind = { kind: 'colour', colour };
    await canvas.show({ ...ON_CANVAS, views: [lit({ environment: 'clear', light: { ...SKY_LIGHTS.clear, ...more }, behind })] }); // prettier-ignore
    await canvas.setMap('mask', plain(0, 1)); // all of the card is a hole
    const pixels = await canvas.pixels(true);
    for (const [x, y] of [
      [4, 4],
      [WIDTH / 2, HEIGHT / 2],
      [WIDTH - 4, HEIGHT - 4],
    ] as const) {
      // prettier-ignore
      const off = at(pixels, x, y).map((v, k) => Math.abs(v - colour[k]));
      expect([colour, Math.max(...off) <= 1]).toEqual([colour, true]);
    }
  }
});

test('a white card in even light stays white, dull or polished, of paper or of metal', async ({ page }) => {
  const canvas = await openCanvas(page, WIDTH, HEIGHT);
  await canvas.setSurface(cardSurface({ cardWidth: 1 }, plain(0, 1)).mesh);
  await canvas.setMap('colour', plain(255, 4));
  // a stop darker, so that what is too bright would show
  const light: StandLight = { ...SKY_LIGHTS.even, exposure: -1, tone: 'none' };
  for (const [roughness, metalness] of [
    [255, 0],
    [191, 0],
    [90, 0],
    [191, 255],
    [40, 255],
  ] as const) {
    // prettier-ignore
    await canvas.setMap('roughness', plain(roughness, 1));
    await canvas.setMap('metalness', plain(metalness, 1));
    await canvas.show({ ...ON_CANVAS, views: [lit({ environment: 'even', light, camera: { azimuth: 0.5 } })] });
    await canvas.setMap('mask', plain(255, 1));
    const [red] = at(await canvas.pixels(true), WIDTH / 2, HEIGHT / 2);
    expect([roughness, metalness, Math.abs(2 * linear(red) - 1) < 0.01]).toEqual([roughness, metalness, true]);
  }
});

test('behind the card: a hurdle, one colour, another piece, a photograph; damaged ones are refused; kept by name', async ({
  page,
}) => {
  await addPiece(page, 'Far wall', drawLeafScan(7, 200).colour);
  await openLeaf(page);
  await settled(page);
  await page.keyboard.press('Alt+i');
  const stand = page.getByTestId('stand');
  const corner = async () => {
    const { x, y, height } = (await stand.boundingBox())!;
    return page.screenshot({ clip: { x: x + 6, y: y + height / 2, width: 12, height: 12 } });
  };
  const still = () => steady(async () => (await corner()).toString('base64'));
  const sky = await still();
  await choose(page, 'behind', 'one colour');
  await expect.poll(still).not.toBe(sky);
  const colour = await still();

  const bring = async (name: string, buffer: Buffer) => {
    const asked = page.waitForEvent('filechooser');
    await choose(page, 'behind', 'a photograph');
    await (await asked).setFiles({ name, mimeType: 'image/png', buffer });
  };
  await bring('broken.png', Buffer.from('not a picture at all'));
  await expect(page.getByTestId('behind-trouble')).toContainText('broken.png');
  expect(await still()).toBe(colour);
  const meadow = makePicture(64, 64, new Uint8Array(4 * 64 * 64).fill(200));
  await bring('meadow.png', Buffer.from((await pngFile('meadow.png', meadow)).bytes));
  await expect.poll(still).not.toBe(colour);
  const photograph = await still();

  await page.keyboard.press('Alt+u');
  await page.getByTestId('side-back').click();
  const distance = stand.locator('.distance input').first();
  await typeNumber(page, 'Field of view, degrees', '50');
  const near = await steady(() => distance.inputValue());
  await page.getByTestId('view-name').fill('The meadow');
  await page.keyboard.press('Enter');
  const kept = page.getByTestId('kept-view');
  await expect(kept).toHaveText('The meadow');
  await page.getByText('rename', { exact: true }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('From the meadow');
  await page.keyboard.press('Enter');
  await expect(kept).toHaveText('From the meadow');
  await page.getByTestId('side-front').click();
  await typeNumber(page, 'Field of view, degrees', '60');
  await page.keyboard.press('Alt+i');
  await choose(page, 'behind', 'another piece');
  await choosePiece(page, 'behind-piece', 'Far wall');
  await expect.poll(still).not.toBe(photograph);
  await page.reload(); // both stay: in the browser, and in the studio
  await settled(page);
  await page.keyboard.press('Alt+u');
  await kept.click();
  await expect(page.getByTestId('stand-readout')).toContainText('back');
  await expect(distance).toHaveValue(near);
  await expect.poll(still, { timeout: 20_000 }).toBe(photograph);

  await page.route('**/api/views/**', (route) => route.fulfill({ status: 500, json: { code: 'internal', message: 'The disk is full.', remedy: 'Free some room.' } })); // prettier-ignore
  await page.getByTestId('delete-view').click();
  await expect(page.getByTestId('views-trouble')).toContainText('The disk is full.');
  await expect(kept).toHaveCount(1);
  await page.unroute('**/api/views/**');
  await page.getByTestId('delete-view').click();
  await expect(kept).toHaveCount(0);
  await page.getByTestId('put-back').click();
  await expect(kept).toHaveText('From the meadow');
});
