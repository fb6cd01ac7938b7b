import type { HandOffReport } from '@lithe-sieve/contract';
import { inMegabytes } from '../../components/megabytes';

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
