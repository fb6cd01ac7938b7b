import { toPlainError } from '../errors.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { Check, PackTools } from './file-format.ts';
import type { HandOffFile } from './profile.ts';

/** Reads every written file again and compares it with what was to be written. */
export async function readBack(files: readonly HandOffFile[], doc: PieceDoc, tools: PackTools): Promise<Check[]> {
  const checks: Check[] = [];
  const beside = (name: string) => files.find((f) => f.name === name)?.bytes ?? null;
  for (const [i, file] of files.entries()) {
    tools.progress?.(i / files.length, `Reading back ${file.name}`);
    const add = (what: string, ok: boolean, found: string) => checks.push({ file: file.name, what, ok, found });
    try {
      await file.check(file.bytes, doc, { ...tools, beside }, add);
    } catch (error) {
      add('opens', false, toPlainError(error).message);
    }
  }
  return checks;
}
