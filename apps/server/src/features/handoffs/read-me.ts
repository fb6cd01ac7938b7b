import type { HandOffReport } from '@lithe-sieve/contract';
import { profileLabel } from './report-text.ts';

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };
const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => ENTITIES[c]);

/** Pictures that a browser shows; the others are named alone. */
const IS_SHOWN = /\.png$/i;
const STYLE = `body{max-width:880px;margin:32px auto;padding:0 20px;font:15px/1.5 system-ui,sans-serif;color:#22302b;background:#f5f1e8}
img{max-width:200px;max-height:200px;background:repeating-conic-gradient(#cfc8b6 0 25%,#e4decd 0 50%) 0 0/16px 16px}
figure{display:inline-block;margin:0 16px 16px 0;vertical-align:top;max-width:260px}figcaption{font-size:13px;overflow-wrap:anywhere}
li.no{color:#9a5f0e}details{font-size:13px}`;

/**
 * One page that goes along with the files: pictures, what to set in the target, what was checked, how to do it again. It
 * loads nothing but the files beside it, and the pictures that targets show are inside.
 *
 * @param pictures - Of each receiver, as a PNG; null where there is none.
 */
export function readMe(report: HandOffReport, pictures: readonly (Uint8Array | null)[]): string {
  const { piece, revision, writtenAt, profile, files, checks, settings, receivers } = report;
  const failed = checks.filter((c) => !c.ok);
  const list = (items: readonly string[]) => `<ul>${items.map((item) => `<li>${item}</li>`).join('')}</ul>`;
  const figures = files.map(({ name, contents, bytes }) => {
    const picture = IS_SHOWN.test(name) ? `<img src="./${escaped(encodeURIComponent(name))}" alt=""><br>` : '';
    return `<figure>${picture}<figcaption><b>${escaped(name)}</b><br>${escaped(contents)}<br>${(bytes / 1e6).toFixed(2)} MB</figcaption></figure>`;
  });
  const targets = receivers.map(({ label, words, remedy, agrees, meant }, i) => {
    const png = pictures[i];
    const picture = png ? `<img src="data:image/png;base64,${Buffer.from(png).toString('base64')}" alt=""><br>` : '';
    const verdict = agrees ? 'as on the Bench' : 'otherwise';
    return `<figure>${picture}<figcaption><b>${escaped(label)}</b>${meant ? '' : ' (not of this profile)'}: ${verdict}<br>${escaped(words)} ${escaped(remedy)}</figcaption></figure>`;
  });
  const title = escaped(`${piece}, revision ${revision}`);
  return `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src 'self' file: data:; style-src 'unsafe-inline'">
<title>${title}</title><style>${STYLE}</style>
<h1>${title}</h1>
<p>Handed off ${escaped(writtenAt)} by the profile ${escaped(profileLabel(profile))}.</p>
<h2>Files</h2>
${figures.join('\n')}
<h2>Set in the target</h2>
${list(settings.map(escaped))}
<h2>What targets show</h2>
${targets.join('\n') || '<p>No target was tried.</p>'}
<h2>Checked</h2>
<p>${failed.length === 0 ? `Every file was read again: ${checks.length} checks passed.` : `${failed.length} of ${checks.length} checks FAILED.`}</p>
${list(failed.map((c) => escaped(`${c.file}: ${c.what}: ${c.found}`)))}
<details><summary>All checks</summary>${list(checks.map((c) => escaped(`${c.file}: ${c.what}: ${c.found}`)))}</details>
<h2>To do it again</h2>
<p>Open the piece at revision ${revision}, choose the same profile on the Hand-off screen, and write: the files come out the
same, byte for byte; their fingerprints are in report.txt.</p>
</html>
`;
}
