import type { HandOffReport } from '@lithe-sieve/contract';

/** A line of its own for each: what a piece or a file is called may hold line breaks, which would begin other ones. */
// eslint-disable-next-line no-control-regex
const onOneLine = (text: string) => text.replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g, ' ');

/** The report as a person reads it in the zip. */
export function reportText(report: HandOffReport): string {
  const lines = [
    `Hand-off of ${report.piece}, revision ${report.revision}, ${report.writtenAt}`,
    `Profile ${report.profile}: ${report.ok ? 'every check passed' : 'NOT EVERY CHECK PASSED'}`,
    '',
    'Files',
    ...report.files.map((f) => `  ${f.name}  ${f.bytes} bytes  ${f.contents}  sha256 ${f.sha256}`),
    '',
    'Read back',
    ...report.checks.map((c) => `  ${c.ok ? 'ok  ' : 'FAIL'}  ${c.file}  ${c.what}: ${c.found}`),
    '',
  ];
  return lines.map(onOneLine).join('\n');
}
