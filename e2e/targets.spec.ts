import { expect } from '@playwright/test';
import type { ProfileFile } from '@lithe-sieve/contract';
import { readFileSync } from 'node:fs';
import { choose, chooseProfile, docOf, downloadZip, openLeaf, settled, typeNumber } from './helpers.ts';
import { expectAccessible } from './axe.ts';
import { test } from './test.ts';

test('targets show what they make of the files: broken on purpose, seen why, mended; a budget and what saves some', async ({
  page,
}) => {
  await openLeaf(page);
  await settled(page);
  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'own-packing');
  await page.getByTestId('edit-target').click();
  await choose(page, 'opacity-from', 'a channel');
  await expect(page.getByTestId('opacity-channel')).toContainText('pack, A');
  await page.getByText('Shows both sides').click();
  await page.keyboard.press('Escape');
  await page.getByTestId('snag-target-sides').getByRole('button', { name: 'Give the back' }).click();
  await expect(page.getByTestId('snag-target-sides')).toHaveCount(0);

  const write = async () => {
    await page.getByTestId('write').click();
    await expect(page.getByTestId('verdict')).toHaveText('Every check passed', { timeout: 60_000 });
    await expect(page.locator('.targets.outdated')).toHaveCount(0, { timeout: 60_000 });
  };
  const inverted = page.getByTestId('packed-1').getByTestId('channel-A').getByText('1 −');
  await inverted.click();
  await page.getByTestId('written-1').click();
  await write();
  const target = page.getByTestId('target-packed-channel');
  await expect(target).toHaveAttribute('data-agrees', 'false');
  await expect(target).toContainText('White and black are swapped');
  await expect(target).toContainText('Put opacity into A of pack, not inverted');
  await expect(target.locator('img')).toHaveJSProperty('complete', true);
  await expect(page.getByTestId('texels-differ')).toHaveText('0 texels differ'); // as packed, that is what was wanted
  await expectAccessible(page, 'Hand-off with targets that differ');

  // mended by keys
  await inverted.locator('..').locator('input').focus();
  await page.keyboard.press('Space');
  await expect(page.locator('.targets.outdated')).toHaveCount(1);
  await write();
  await expect(page.getByTestId('agree')).toHaveText('2 of 2 targets agree');
  await expect(page.getByTestId('shown-way').getByRole('radio', { name: 'as written' })).toBeChecked();

  await page.getByTestId('earlier').locator('summary').click();
  await expect(page.getByTestId('earlier')).toContainText('_pack.png changed:');
  const [was, is] = await page.getByTestId('earlier').locator('figure img').all();
  for (const picture of [was, is]) await expect(picture).toHaveJSProperty('naturalWidth', 256);
  await expect(page.getByTestId('earlier')).toContainText('Reads a channel of a packed file: agrees now.');

  const card = page.getByTestId('budget-card');
  await card.getByText('at the most').click();
  await typeNumber(page, 'At the most on the card, MB', '0.1');
  await expect(card).toContainText('too much');
  await page.getByTestId('saving').first().click();
  const saved = async () => {
    const { budget, packing } = (await docOf(page)).handOff;
    return [budget?.card, packing?.some((f) => f.halvings === 1)];
  };
  await expect.poll(saved).toEqual([100_000, true]); // saved a moment later
  await page.keyboard.press('Control+z');
  const name = page.getByTestId('packed-1').getByTestId('packed-name'); // the target goes on reading the same file
  await name.fill('mrt');
  await name.press('Enter');
  await expect.poll(async () => (await docOf(page)).handOff.target?.channel).toEqual({ file: 'mrt', channel: 3 });
  const files = await downloadZip(page);
  expect(Buffer.from(files['report.txt']).toString()).toContain('2 of 2 targets show it as the Bench does');
});

test('a profile of one’s own is kept, written to a file, brought in and taken up; a file that is none is refused in words', async ({
  page,
}, info) => {
  await openLeaf(page);
  await settled(page);
  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'rgb-and-mask');
  await page.getByTestId('profile').click();
  await page.getByTestId('duplicate-profile').click();
  await page.getByTestId('profile-name').fill('Marsh packs');
  await page.getByTestId('keep-profile').click();
  await expect(page.getByTestId('kept-profile')).toHaveText('Marsh packs');
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByTestId('profile-to-file').click()]);
  const path = info.outputPath(download.suggestedFilename());
  await download.saveAs(path);
  const file = JSON.parse(readFileSync(path, 'utf8')) as ProfileFile;
  expect([path.endsWith('Marsh-packs.profile.json'), file.profile.packing.map((f) => [f.name, f.as])]).toEqual([
    true,
    [
      ['base', 'RGB'],
      ['mask', 'grey'],
    ],
  ]);
  expect(file.profile.target.opacity).toBe('mask picture');

  const bringIn = async (name: string, text: string) => {
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByTestId('profile-from-file').click(),
    ]);
    await chooser.setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) });
  };
  for (const [text, words] of [
    ['{', 'is no JSON'],
    ['[]', 'is no profile'],
    [JSON.stringify({ ...file, version: 99 }), 'newer version'],
    [
      JSON.stringify({
        ...file,
        profile: { ...file.profile, packing: [{ ...file.profile.packing[0], name: '../up' }] },
      }),
      'letters',
    ],
  ]) {
    await bringIn('odd.json', text);
    await expect(page.getByTestId('profile-file-trouble')).toContainText(words);
  }
  await expect(page.getByTestId('kept-profile')).toHaveCount(1);
  const named = { ...file, name: 'From elsewhere', profile: { ...file.profile, pattern: '{map}_{piece}' } };
  await bringIn('good.json', JSON.stringify(named));
  await expect(page.getByTestId('kept-profile')).toHaveCount(2);
  await expect.poll(async () => (await docOf(page)).handOff.pattern).toBe('{map}_{piece}');
  await page.getByTestId('kept-profile').first().click();
  await expect
    .poll(async () => (await docOf(page)).handOff)
    .toMatchObject({ profile: 'own-packing', pattern: '{piece}_{map}' });
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await docOf(page)).handOff.pattern).toBe('{map}_{piece}');
});
