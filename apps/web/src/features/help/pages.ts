import { HELP_FILES, pagesOf } from '../../document/help-pages';

const texts = import.meta.glob<string>('../../../../../docs/help/*.md', {
  eager: true,
  query: '?raw',
  import: 'default',
});
const pictures = import.meta.glob<string>('../../../../../docs/help/pictures/*.webp', {
  eager: true,
  query: '?url',
  import: 'default',
});

const named = <T>(files: Record<string, T>, name: string): T | undefined =>
  Object.entries(files).find(([path]) => path.endsWith(`/${name}`))?.[1];

/** Every page, the same text as in the docs. */
export const HELP = HELP_FILES.flatMap((file) => pagesOf(file, named(texts, file) ?? ''));
/** The address of a picture that a page shows. */
export const pictureOf = (path: string): string => named(pictures, path) ?? path;
