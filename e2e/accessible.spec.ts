import { expect } from '@playwright/test';
import { expectAccessible } from './axe.ts';
import { openDemo, openLeaf, settled } from './helpers.ts';
import { test } from './test.ts';

// axe-core (Deque), the checker that most accessibility tests use
test('no screen breaks a rule that a checker finds: light and dark, menus and dialogues', async ({ page }) => {
  test.setTimeout(200_000);
  const violations: string[] = [];
  await page.exposeFunction('noteViolation', (text: string) => violations.push(text));
  await page.addInitScript(() =>
    document.addEventListener('securitypolicyviolation', ({ violatedDirective, blockedURI }) =>
      (window as unknown as { noteViolation(text: string): void }).noteViolation(`${violatedDirective} ${blockedURI}`),
    ),
  );
  await openDemo(page, 'Sea-aster leaf');
  for (const theme of ['light', 'dark']) {
    const clip = ['material-tile', 'card-tile', 'levels-tile', 'breaks-tile', 'storage-tile', 'light'];
    for (const [i, step] of ['step-from-colour', 'source', ...clip, 'step-bleed'].entries()) {
      const tile = page.getByTestId(step).first();
      await (step.startsWith('step') ? tile.locator('.face') : tile).click();
      const colours = theme === 'dark' ? ['color-contrast'] : undefined; // all else is as in light
      await expectAccessible(page, `Bench ${theme}, ${step}`, i > 0 ? '#settings' : undefined, colours);
    }
    if (theme === 'light') await page.keyboard.press('l');
  }
  await page.getByTestId('insert-mask').click();
  await expect(page.getByRole('textbox', { name: 'Find a step' })).toBeFocused();
  await expectAccessible(page, 'menu of steps', '.el-popper');
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Strokes/ })
    .click();
  await settled(page);
  await expectAccessible(page, 'strokes');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toBeVisible();
  await expectAccessible(page, 'keys', '.el-dialog');
  await page.keyboard.press('Escape');
  for (const [path, what] of [
    ['/', 'Stock'],
    ['/studio', 'Studio'],
    ['/bench/nothing-here', 'a piece that is not there'],
  ]) {
    await page.goto(path);
    await page.waitForLoadState('networkidle');
    await expectAccessible(page, what);
  }
  await openDemo(page, 'Cordgrass card');
  await page.getByTestId('to-hand-off').click();
  await expect(page.getByTestId('write')).toBeVisible();
  await expectAccessible(page, 'Hand-off');
  expect(violations).toEqual([]); // of our own content policy: nothing here asks for eval
});

test('error states too: a step that cannot be done, a server that fails', async ({ page }) => {
  await openLeaf(page);
  const piece = page.url().split('/').at(-1);
  const { revision } = (await (await page.request.get(`/api/pieces/${piece}`)).json()) as { revision: number };
  const lost = {
    id: 'lost-source',
    kind: 'from-channel',
    on: true,
    params: { sourceId: 'not-there', channel: 'red', fit: 'refuse' },
  };
  const entry = {
    label: 'A source that is gone',
    patches: [{ op: 'add', path: ['run', 0], value: lost }],
    inverse: [{ op: 'remove', path: ['run', 0] }],
  };
  await page.request.post(`/api/pieces/${piece}/edits`, { data: { kind: 'do', baseRevision: revision, entry } });
  await page.reload();
  await settled(page);
  await page.locator('.failed .face').click();
  await expect(page.getByTestId('step-error')).toContainText('no longer in the piece');
  await expectAccessible(page, 'a step that cannot be done');
  await page.route('**/api/pieces/*/edits', (route) => route.fulfill({ status: 500, json: {} }));
  await page.keyboard.press('Control+z');
  await expect(
    page.getByTestId('notices').or(page.locator('.not-saved')).or(page.getByText('Not saved')).first(),
  ).toBeVisible();
  await expectAccessible(page, 'not saved');
  await page.unroute('**/api/pieces/*/edits');
  await settled(page);
});
