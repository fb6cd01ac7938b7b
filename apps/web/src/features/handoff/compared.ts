import type { HandOffReport } from '@lithe-sieve/contract';
import { inMegabytes } from '../../components/megabytes';

/** Files of one name whose bytes differ, by their places in either report. */
export function changedPictures(
  earlier: HandOffReport,
  later: HandOffReport,
): { name: string; was: number; is: number }[] {
  return later.files.flatMap(({ name, sha256 }, is) => {
    const was = earlier.files.findIndex((f) => f.name === name);
    return was >= 0 && earlier.files[was].sha256 !== sha256 && HAS_PICTURE.test(name) ? [{ name, was, is }] : [];
  });
}
const HAS_PICTURE = /\.(png|tga|tif|webp|dds|ktx2|glb|usdz)$/i;

/** What has changed from an earlier hand-off to a later one, file by file, a sentence each; none: not a byte. */
export function changesBetween(earlier: HandOffReport, later: HandOffReport): string[] {
  const before = new Map(earlier.files.map((f) => [f.name, f]));
  const now = new Map(later.files.map((f) => [f.name, f]));
  const changed = later.files.flatMap((file) => {
    const old = before.get(file.name);
    if (!old) return [`${file.name} is new, ${inMegabytes(file.bytes)}.`];
    if (old.sha256 === file.sha256) return [];
    const what = old.contents === file.contents ? '' : ` ${old.contents} became ${file.contents}.`;
    return [`${file.name} changed: ${inMegabytes(old.bytes)} became ${inMegabytes(file.bytes)}.${what}`];
  });
  const gone = earlier.files.filter((f) => !now.has(f.name)).map((f) => `${f.name} is not written any more.`);
  const told = new Map(earlier.receivers.map((r) => [r.id, r]));
  const targets = later.receivers.flatMap((r) => {
    const old = told.get(r.id);
    if (!old || old.agrees === r.agrees || !(r.meant || old.meant)) return [];
    return [`${r.label}: ${r.agrees ? 'agrees now.' : 'does not agree any more.'}`];
  });
  return [...changed, ...gone, ...targets];
}
