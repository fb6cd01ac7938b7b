import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { STEP_KINDS, stepKind, STRETCHES, type StepKindName } from '@lithe-sieve/core';
import { HELP_FILES, linkFrom, pagesOf, searched } from '../src/document/help-pages';

const ROOT = join(import.meta.dirname, '../../..');
const DOCS = join(ROOT, 'docs/help');
const pages = HELP_FILES.flatMap((file) => pagesOf(file, readFileSync(join(DOCS, file), 'utf8')));
const page = (key: string) => pages.find((p) => p.key === key);

test('every kind of step has a page, which begins with what it does and shows it', () => {
  for (const kind of Object.keys(STEP_KINDS) as StepKindName[]) {
    const found = page(`steps.md#${kind}`);
    expect([kind, found?.title]).toEqual([kind, stepKind(kind).label]);
    expect(found?.text.replaceAll('\\', '').startsWith(stepKind(kind).hint)).toBe(true);
    expect(found?.text).toContain(`](pictures/${kind}.webp)`);
  }
});

test('every snag has a page: those of checks, and doubts of steps', () => {
  const sources = ['snags', 'steps/maps'].flatMap((folder) => {
    const path = join(ROOT, 'packages/core/src', folder);
    return readdirSync(path).flatMap((name) => (name.endsWith('.ts') ? [readFileSync(join(path, name), 'utf8')] : []));
  });
  const said = sources.flatMap((text) =>
    [...text.matchAll(/\bid(?::| =) ([^;\n]*?)[,;\n]/g)].map(([, value]) => value),
  );
  const ids = new Set(said.flatMap((value) => [...value.matchAll(/'([a-z]+(?:-[a-z]+)*)'/g)].map(([, id]) => id)));
  expect(ids.size).toBeGreaterThan(30);
  expect([...ids].filter((id) => !page(`snags.md#${id}`))).toEqual([]);
});

test('words that the screens use have a page', () => {
  const words = ['Stock', 'Bench', 'Studio', 'Hand-off', 'Sheet', 'Stand', 'Sieve', 'Snag', 'Start', 'Proposal', 'Cutoff', 'Coverage', 'Opacity', 'Opaque', 'Blend', 'Two-sided', 'Fringe', 'Mip level', 'Hold at distance', 'Drift', 'Card', 'Outline', 'Compression', 'What breaks', 'Profile', 'Receiver', 'Target', 'Slot', 'Backdrop', 'Texel', 'Recipe', 'Source', 'Run', 'Step', 'Stretch', 'As drawn', 'As seen', 'Normal map', 'Wrap', 'Power of two']; // prettier-ignore
  const titles = pages.filter((p) => p.about === 'word').map((p) => p.title.toLowerCase());
  expect(words.filter((word) => !titles.some((title) => title.includes(word.toLowerCase())))).toEqual([]);
  // parts of a run, by their names
  const { text } = page('terms.md#stretch')!;
  expect(Object.values(STRETCHES).filter(({ label }) => !text.includes(label))).toEqual([]);
});

test('every link leads to a page, every picture is there; keys are said once', () => {
  const pictures = readdirSync(join(DOCS, 'pictures'));
  for (const from of pages) {
    for (const [, href] of from.text.matchAll(/(?<!!)\[[^\]]+\]\(([^)]+)\)/g)) {
      expect([from.key, href, Boolean(page(linkFrom(from, href)))]).toEqual([from.key, href, true]);
    }
    for (const [, name] of from.text.matchAll(/\]\(pictures\/([^)]+)\)/g)) expect(pictures).toContain(name);
  }
  expect(new Set(pages.map((p) => p.key)).size).toBe(pages.length);
  expect(pages.every((p) => p.text.length > 40)).toBe(true);
});

test('a search finds by title first, then by text; all words count', () => {
  expect(searched(pages, 'bleed')[0].key).toBe('steps.md#bleed');
  expect(searched(pages, 'halo').map((p) => p.key)).toContain('steps.md#bleed');
  expect(searched(pages, 'halo zebra')).toEqual([]);
  expect(searched(pages, '')).toHaveLength(pages.length);
});
