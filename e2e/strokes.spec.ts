import { expect, type Page } from '@playwright/test';
import { evaluateRun, POINT_UNIT, toRgba8, type BrushStroke } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { BREAK, count, holes, ONE, openBroken, press, scan, share, SIDE, tool, wrongTexels } from './broken-leaf.ts';
import {
  addPiece,
  choose,
  choosePiece,
  computed,
  decodePng,
  downloadZip,
  expectTexels,
  openGlb,
  runOf,
  scribble,
  seenAt,
  settled,
  steady,
  strokesOf,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

test('a scripted hand cuts the eaten holes and mends the stalk: on the Sheet, undone, reloaded, handed off', async ({
  page,
}) => {
  await openBroken(page);
  const before = (await computed(page, ONE)).mask;
  await tool(page, 'region');
  await typeNumber(page, 'Tolerance', '0.14');
  for (const { x, y } of holes.slice(0, 4)) await press(page, x, y);
  await tool(page, 'outline');
  const { x, y, width, height } = holes[4];
  for (const [dx, dy] of [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
    [-1, -1],
  ]) {
    const at = await seenAt(page, share(x + (dx * width) / 2), share(y + (dy * height) / 2));
    await page.mouse.click(at.x, at.y);
  }
  await settled(page);
  await count(page, 5);
  await tool(page, 'brush');
  await typeNumber(page, 'Diameter, texels', '2');
  const last = holes[5];
  await scribble(page, [share(last.x - 1), share(last.y)], [share(last.x + 1), share(last.y)]);
  await count(page, 6);

  await page.keyboard.press('d');
  await expect(page.getByTestId('hand-sheet')).toHaveAttribute('data-effect', 'restore');
  await tool(page, 'line');
  await typeNumber(page, 'Diameter, texels', '4.6');
  const stalk = Array.from({ length: SIDE }, (_, u) => u).filter((u) => scan.mask.data[225 * SIDE + u] > 127);
  const middle = (stalk[0] + stalk[stalk.length - 1]) / 2;
  await press(page, middle, BREAK.y0 - 2);
  await press(page, middle, BREAK.y1 + 1);
  await count(page, 8);
  await expectTexels(page, ONE);
  const { mask } = await computed(page, ONE);
  const wrong = [wrongTexels(before), wrongTexels(mask)];
  expect(wrong[1], wrong.join()).toBeLessThan(wrong[0] / 4);

  for (let n = 7; n >= 0; n--) {
    await page.keyboard.press('Control+z');
    await count(page, n);
  }
  await expectTexels(page, ONE);
  expect((await computed(page, ONE)).mask.data).toEqual(before.data);
  for (let i = 0; i < 8; i++) await page.keyboard.press('Control+Shift+z');
  await count(page, 8);
  await settled(page);
  await page.reload();
  await settled(page);
  await expectTexels(page, ONE);

  // what stands before is tuned, the strokes stay on top
  await page.getByTestId('step-from-colour').locator('.face').click();
  await typeNumber(page, 'Tolerance', '0.16');
  await expectTexels(page, ONE);

  await page.getByTestId('to-hand-off').click();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 60_000 });
  await expect(page.getByText('mask as shown')).not.toHaveCount(0);
  const files = await downloadZip(page);
  const glb = Object.keys(files).find((name) => name.endsWith('.glb'))!;
  const image = await decodePng(openGlb(files[glb]).image);
  await page.goBack();
  const expected = (await computed(page, ONE)).mask.data;
  expect(expected.filter((v, i) => image.data[4 * i + 3] !== v)).toHaveLength(0);
});

/** Only what a stroke changed was drawn: a full drawing, for another backdrop and back, must not differ from it. */
async function expectDrawnWhole(page: Page): Promise<void> {
  await page.getByTestId('step-bleed').getByRole('checkbox').click(); // its colour would be drawn again after each stroke
  await page.getByTestId('stand').focus();
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowLeft'); // to where its shadow is seen
  await page.getByTestId('sheet').focus();
  await settled(page);
  const stand = page.getByTestId('stand');
  await steady(async () => (await stand.screenshot()).toString('base64')); // it may wait a moment
  await page.keyboard.press('Enter');
  await settled(page);
  await page.mouse.move(640, 20);
  const { x, y, width, height } = (await stand.boundingBox())!;
  const seen = async () =>
    (await page.screenshot({ clip: { x, y: y + 50, width, height: height - 110 } })).toString('base64');
  const parts = await steady(seen, 10); // a busy machine draws what was computed a second later
  await page.keyboard.press('g');
  await expect.poll(async () => (await steady(seen)) === parts).toBe(false);
  for (let i = 1; i < 7; i++) await page.keyboard.press('g'); // the last of seven skies is followed by the first
  await expect.poll(async () => (await steady(seen)) === parts).toBe(true);
  for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
  await settled(page);
}

test('on the Stand, front and back, and by keys alone', async ({ page }) => {
  await openBroken(page);
  await tool(page, 'brush');
  await typeNumber(page, 'Diameter, texels', '12');
  const stand = (await page.getByTestId('stand').boundingBox())!;
  for (const side of ['front', 'back']) {
    const [x, y] = [stand.x + stand.width / 2 + (side === 'front' ? 10 : 16), stand.y + stand.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 30, y + 20, { steps: 5 });
    await page.mouse.up();
    await settled(page);
    await page.getByTestId('flip').click();
  }
  await count(page, 2);
  await expectTexels(page, ONE);
  await expectDrawnWhole(page);
  const { mask } = await computed(page, ONE);
  const plain = evaluateRun(
    (await runOf(page)).filter((s) => s.kind !== 'strokes'),
    { sources: ONE },
  ).mask;
  const cut = mask.data.filter((v, i) => v < 128 && plain.data[i] >= 128).length;
  expect(cut).toBeGreaterThan(2 * 12 * 12);

  // keys: the tool, the size, a press in the middle of the Sheet, and back
  await page.getByTestId('sheet').focus();
  await page.keyboard.press('i');
  await page.keyboard.press('Enter');
  await count(page, 3);
  await settled(page);
  const dab = (await computed(page, ONE)).mask.data.filter((v, i) => v !== mask.data[i]).length;
  expect(dab).toBeGreaterThan(20);
  await page.keyboard.down('e');
  await expect(page.getByTestId('hand-sheet')).toHaveAttribute('data-effect', 'restore');
  await page.keyboard.press('Enter');
  await page.keyboard.up('e');
  await expect(page.getByTestId('hand-sheet')).toHaveAttribute('data-effect', 'cut');
  await count(page, 4);
  await expectTexels(page, ONE);

  // a stroke: Enter is held, the arrows steer; with Ctrl by a texel
  await page.keyboard.down('Enter');
  for (const key of ['ArrowRight', 'ArrowRight', 'Control+ArrowDown', 'Control+ArrowDown'])
    await page.keyboard.press(key);
  await page.keyboard.up('Enter');
  await count(page, 5);
  await settled(page);
  const drawn = (await strokesOf(page)).at(-1) as BrushStroke;
  const xs = drawn.path.filter((_, i) => i % 3 === 0);
  const ys = drawn.path.filter((_, i) => i % 3 === 1);
  expect(ys.map((y) => y - ys[0])).toEqual([0, 0, 0, POINT_UNIT, 2 * POINT_UNIT]);
  expect(Math.abs(xs[2] - 2 * xs[1] + xs[0])).toBeLessThanOrEqual(1);
  expect(xs[1]).toBeGreaterThan(xs[0]);
  await page.keyboard.down('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Escape');
  await page.keyboard.up('Enter');
  await page.keyboard.press('0');
  await count(page, 5);
  await expectTexels(page, ONE);
});

test('a stroke that loses its pointer ends cleanly; Escape takes one back', async ({ page }) => {
  await openBroken(page);
  const a = await seenAt(page, 0.5, 0.4);
  await page.mouse.move(a.x, a.y);
  await page.mouse.down();
  await page.mouse.move(a.x + 20, a.y + 5, { steps: 4 });
  await page.getByTestId('sheet').dispatchEvent('pointercancel', { pointerId: 1 });
  await page.mouse.up();
  await count(page, 1);
  await expectTexels(page, ONE);
  await page.mouse.move(a.x, a.y + 40);
  await page.mouse.down();
  await page.mouse.move(a.x + 20, a.y + 45, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await count(page, 1);
  await expectTexels(page, ONE);

  // the loupe follows the pointer until it is switched off
  const loupe = page.getByTestId('loupe-sheet');
  const place = async () => (await loupe.boundingBox())!;
  const away = async () => {
    const { x, y, width, height } = await place();
    const far = (v: number, from: number, to: number) => Math.max(from - v, v - to, 0);
    return Math.hypot(far(a.x, x, x + width), far(a.y + 20, y, y + height)); // beside it, on whichever side hides least
  };
  await page.mouse.move(a.x, a.y + 20);
  await expect.poll(away).toBeLessThan(80);
  const before = await place();
  await page.mouse.move(a.x - 50, a.y + 20);
  await expect.poll(async () => (await place()).x - before.x).toBeLessThan(-20);
  await page.getByTestId('loupe-choice').getByText('none', { exact: true }).click();
  await page.mouse.move(a.x, a.y);
  await expect(loupe).toBeHidden();
});

// Pointer Events (W3C): pressure of a pen is 0–1; moves between two frames come as coalesced events of one
test('a pen: every point of its way with its pressure, the tip from another piece', async ({ page }) => {
  await addPiece(page, 'tip_leaf.png', drawLeafScan(5, 64).colour);
  await openBroken(page);
  await choose(page, 'tip', 'piece');
  const sheet = await seenAt(page, 0.4, 0.4);
  await page.mouse.click(sheet.x, sheet.y);
  await expect(page.getByText('Choose the piece whose mask is the tip')).toBeVisible();
  await choosePiece(page, 'tip-piece', 'tip_leaf');
  await expect(page.getByTestId('tip-piece')).toContainText('tip_leaf');
  await typeNumber(page, 'Diameter, texels', '30');
  await scribble(page, [0.4, 0.4], [0.55, 0.45]);
  await count(page, 1);

  await choose(page, 'tip', 'round');
  const cdp = await page.context().newCDPSession(page);
  const moves = 90;
  const pen = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', i: number) =>
    cdp.send('Input.dispatchMouseEvent', {
      type,
      x: sheet.x - 60 + i,
      y: sheet.y + 60 + 20 * Math.sin(i / 12),
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
      pointerType: 'pen',
      force: 0.2 + (0.7 * i) / moves,
    });
  await pen('mousePressed', 0);
  await Promise.all(Array.from({ length: moves }, (_, i) => pen('mouseMoved', i + 1)));
  await pen('mouseReleased', moves);
  await count(page, 2);
  await settled(page);
  const drawn = await strokesOf(page);
  const stroke = drawn.find((s) => s.kind === 'brush' && s.brush.tip === 'round') as BrushStroke;
  expect(stroke.path.length / 3).toBeGreaterThan(0.9 * moves);
  const pressures = stroke.path.filter((_, i) => i % 3 === 2);
  expect(pressures[5]).toBeLessThan(400);
  expect(pressures.at(-1)).toBeGreaterThan(800);
  // its other end: button 5, of the buttons 32 (Pointer Events, W3C, chorded buttons); made here, since there is no such pen
  for (const [type, dx] of [
    ['pointerdown', 0],
    ['pointermove', 20],
    ['pointerup', 20],
  ] as const) {
    await page.getByTestId('sheet').dispatchEvent(type, {
      pointerId: 1,
      pointerType: 'pen',
      button: type === 'pointermove' ? -1 : 5,
      buttons: type === 'pointerup' ? 0 : 32,
      pressure: type === 'pointerup' ? 0 : 0.5,
      clientX: sheet.x + dx,
      clientY: sheet.y,
    });
    const says = type === 'pointerup' ? 'cut' : 'restore';
    await expect(page.getByTestId('hand-sheet')).toHaveAttribute('data-effect', says);
  }
  await count(page, 3);
  await settled(page);
  const rubbed = (await strokesOf(page)).at(-1) as BrushStroke;
  expect([rubbed.effect, rubbed.path[2], rubbed.path.length]).toEqual(['restore', 512, 6]);

  const tip = drawn.find((s) => s.kind === 'brush' && s.brush.tip === 'piece') as BrushStroke;
  const file = await (await page.request.get(`/api/sources/${tip.brush.picture}/bytes`)).body();
  const tipPicture = toRgba8(await decodePng(new Uint8Array(file)));
  await expectTexels(page, ONE, () => tipPicture);
});

test('hole by hole: each place is shown close up and taken by key', async ({ page }) => {
  await openBroken(page);
  await page.keyboard.press('Delete'); // without the step of strokes
  await page.getByTestId('insert-mask').click();
  await page.getByRole('menuitem', { name: /^Clear backdrop/ }).click();
  await typeNumber(page, 'Smallest area, texels', '8');
  await settled(page);
  await expect(page.getByTestId('rings')).toBeVisible();
  const zoom = await page.getByTestId('zoom').innerText();
  await page.getByTestId('sheet').focus();
  for (const taken of [1, 2]) {
    await page.keyboard.press('n');
    await page.keyboard.press('q');
    await settled(page);
    const step = (await runOf(page)).find((s) => s.kind === 'clear-holes')!;
    expect(step.params.taken).toHaveLength(taken);
  }
  expect(await page.getByTestId('zoom').innerText()).not.toBe(zoom);
  await page.keyboard.press('p');
  await page.keyboard.press('q');
  await settled(page);
  expect((await runOf(page)).find((s) => s.kind === 'clear-holes')!.params.taken).toHaveLength(1);
  await page.keyboard.press('0');
  await expectTexels(page, ONE);
});
