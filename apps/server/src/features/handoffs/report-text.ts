import type { HandOffReport } from '@lithe-sieve/contract';
import { PROFILES } from '@lithe-sieve/core';

/** A line of its own for each: what a piece or a file is called may hold line breaks, which would begin other ones. */
// eslint-disable-next-line no-control-regex
const onOneLine = (text: string) => text.replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ');

/** As the screen calls it. */
export const profileLabel = (id: string): string => PROFILES.find((p) => p.id === id)?.label ?? id;

const inMegabytes = (bytes: number) => `${(bytes / 1e6).toFixed(2)} MB`;

/** The report as a person reads it in the zip: file by file, then what targets show; fingerprints last. */
export function reportText(report: HandOffReport): string {
  const { files, checks, receivers, settings } = report;
  const named = new Set(files.map((f) => f.name));
  const checked = (of: typeof checks) => of.map((c) => `  ${c.ok ? 'passed' : 'FAILED'}  ${c.what}: ${c.found}`);
  const meant = receivers.filter((r) => r.meant);
  const agree = meant.filter((r) => r.agrees).length;
  const lines = [
    `Hand-off of ${report.piece}, revision ${report.revision}, ${report.writtenAt}`,
    `Profile ${profileLabel(report.profile)}: ${report.ok ? 'every check passed' : 'NOT EVERY CHECK PASSED'}` +
      (meant.length > 0 ? `; ${agree} of ${meant.length} targets show it as the Bench does` : ''),
    ...files.flatMap(({ name, contents, bytes }) => [
      '',
      `${name}  ${inMegabytes(bytes)}  ${contents}`,
      ...checked(checks.filter((c) => c.file === name)),
    ]),
    '',
    'Beside the Bench',
    ...checked(checks.filter((c) => !named.has(c.file))),
    ...(receivers.length > 0 ? ['', 'What targets show'] : []),
    ...receivers.flatMap(({ meant: own, agrees, label, words, remedy }) => [
      `  ${agrees ? 'agrees ' : own ? 'DIFFERS' : 'differs'}  ${label}${own ? '' : ' (not of this profile)'}: ${words}`,
      ...(remedy ? [`           ${remedy}`] : []),
    ]),
    ...(settings.length > 0 ? ['', 'Set in the target', ...settings.map((s) => `  ${s}`)] : []),
    '',
    'Fingerprints (SHA-256)',
    ...files.map((f) => `  ${f.name}  ${f.sha256}`),
    '',
  ];
  return lines.map(onOneLine).join('\n');
}
