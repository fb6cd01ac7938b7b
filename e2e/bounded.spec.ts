import { expect } from '@playwright/test';
import { grownPiece, makeRecipe, type Recipe } from '@lithe-sieve/core';
import { ask, docOf, settled, typeNumber } from './helpers.ts';
import { test } from './test.ts';

let ids = 0;
const grown = (recipe: Recipe) =>
  grownPiece({ name: 'Net', recipe, cardWidth: 1 }, () => `net-${String(ids++).padStart(7, '0')}`);

test('a recipe within its ranges that would take for ever is refused in words, and mended by a number', async ({
  page,
}) => {
  await page.goto('/');
  const recipe = makeRecipe('weave', { pattern: 'wire cloth', across: 50, pitch: 1, thick: 1000, seamless: true, width: 512, height: 512 }); // prettier-ignore
  const { id } = await ask<{ id: string }>(page, 'post', '/api/pieces/copies', { doc: grown(recipe) });
  await page.goto(`/bench/${id}`);
  await expect(page.getByText('Threads so much wider than the card lie over it too many times')).toBeVisible({ timeout: 10_000 }); // prettier-ignore
  await typeNumber(page, 'Thickness, mm', '0.5');
  await settled(page);
  await expect(page.getByTestId('ladder').locator('li').first()).toBeVisible();
});

test('what a tab was computing when it ended is left out when the piece is opened again, says so, and can be mended', async ({
  page,
  context,
}) => {
  await page.goto('/');
  const slow = makeRecipe('weave', { across: 20000, seamless: true, width: 256, height: 256 }); // a million shapes and more
  const { id } = await ask<{ id: string }>(page, 'post', '/api/pieces/copies', { doc: grown(slow) });
  await page.goto(`/bench/${id}`);
  await expect
    .poll(() => page.evaluate(() => Object.keys(localStorage).some((key) => key.includes('under way'))), {
      timeout: 20_000,
    }) // prettier-ignore
    .toBe(true);
  const crashed = page.waitForEvent('crash');
  void (await context.newCDPSession(page)).send('Page.crash').catch(() => undefined); // never answers
  await crashed;

  const again = await context.newPage();
  await again.goto(`/bench/${id}`);
  const said = again.getByTestId('notice').filter({ hasText: 'The recipe was being computed when this page ended' });
  await expect(said).toContainText('It is left out until the recipe is set otherwise.');
  await expect(again.getByTestId('recipe-cost')).toContainText('million shapes: each change takes about');
  await typeNumber(again, 'Pitch, mm', '800');
  await settled(again);
  await expect(said).toBeHidden();
  await expect(again.getByTestId('recipe-cost')).toBeHidden();
  expect((await docOf(again)).sources[0].recipe?.params).toMatchObject({ pitch: 800 });
  await again.close();
});

test('a step that ended its tab is left out alone, and computed when asked for', async ({ page, context }) => {
  await page.goto('/');
  const doc = grown(makeRecipe('tuft', { width: 2048, height: 2048 }));
  const fringe = { id: 'fringe-001', kind: 'fine-fringe' as const, on: true, params: { band: 3, trust: 0.25 } };
  doc.run.push({ id: 'feather-01', kind: 'feather', on: true, params: { radius: 4, side: 'both' } } as never, fringe);
  const { id } = await ask<{ id: string }>(page, 'post', '/api/pieces/copies', { doc });
  await page.goto(`/bench/${id}`);
  await settled(page);
  await page.evaluate(
    ([piece, print]) => {
      const note = { session: 'gone', what: 'step', id: 'fringe-001', print };
      localStorage.setItem(`lithe-sieve under way ${piece}`, JSON.stringify(note));
    },
    [id, JSON.stringify([fringe.kind, fringe.params, undefined])],
  );
  const next = await context.newPage();
  await next.goto(`/bench/${id}`);
  await settled(next);
  await expect(next.getByTestId('step-fine-fringe').getByText('!')).toBeVisible();
  await expect(next.getByTestId('step-feather').getByText('!')).toBeHidden();
  await next.getByTestId('notice-action').click();
  await settled(next);
  await expect(next.getByTestId('step-fine-fringe').getByText('!')).toBeHidden();
  await next.close();
});
