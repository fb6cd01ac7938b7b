/** A page of help: a section of a file of docs/help. */
export interface HelpPage {
  /** File and anchor, as links between them are written: `steps.md#bleed`. */
  key: string;
  title: string;
  /** What it is of, in a word. */
  about: 'step' | 'snag' | 'word';
  /** Markdown, without the heading. */
  text: string;
}

const ABOUT = { 'steps.md': 'step', 'snags.md': 'snag', 'terms.md': 'word' } as const;
export type HelpFile = keyof typeof ABOUT;
export const HELP_FILES = Object.keys(ABOUT) as HelpFile[];

const SECTION = /<a id="([^"]+)"><\/a>\s+## (.+)\n/g;

/** The pages of a file, in its order. */
export function pagesOf(file: HelpFile, markdown: string): HelpPage[] {
  const found = [...markdown.matchAll(SECTION)];
  return found.map((match, i) => {
    const [heading, id, title] = match;
    const text = markdown.slice(match.index + heading.length, found[i + 1]?.index).trim();
    return { key: `${file}#${id}`, title, about: ABOUT[file], text };
  });
}

/** Where a link of a page leads: within its file, or to another. */
export function linkFrom(page: HelpPage, href: string): string {
  return href.startsWith('#') ? `${page.key.split('#')[0]}${href}` : href;
}

/** Pages that hold all words, those in whose title they stand first. */
export function searched(pages: readonly HelpPage[], words: string): HelpPage[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (text: string) => wanted.every((word) => text.toLowerCase().includes(word));
  const [inTitle, rest] = [pages.filter((p) => holds(p.title)), pages.filter((p) => !holds(p.title))];
  return [...inTitle, ...rest.filter((p) => holds(`${p.title} ${p.text}`))];
}
