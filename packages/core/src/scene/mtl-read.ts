import { SieveError } from '../errors.ts';
import type { SceneSays } from './says.ts';

const wrong = (why: string) => new SieveError('corrupt', `It is no OBJ with a material: ${why}.`);

/** File of materials that an OBJ names, and the first material that a face is given. @throws SieveError `corrupt`. */
export function materialOfObj(text: string): { library: string; material: string } {
  const library = /^mtllib\s+(\S.*?)\s*$/m.exec(text)?.[1];
  const material = /^usemtl\s+(\S.*?)\s*$/m.exec(text)?.[1];
  if (!library || !material) throw wrong('it names none');
  return { library, material };
}

/**
 * What a file of materials says of one of them: `d` and `map_d` make it less than opaque; it knows no cutoff and no sides.
 *
 * @throws SieveError `corrupt` where it does not hold it.
 */
export function readMtl(text: string, material: string): SceneSays {
  const blocks = text.split(/^newmtl\s+/m).slice(1);
  const own = blocks.find((block) => block.split(/\r?\n/)[0].trim() === material);
  if (own === undefined) throw wrong(`its file holds no ${material}`);
  const last = (statement: string) => new RegExp(`^${statement}\\s+(\\S.*?)\\s*$`, 'm').exec(own)?.[1];
  // options stand between the statement and the file: a name has no space in it here
  const fileOf = (statement: string) => last(statement)?.split(/\s+/).at(-1) ?? null;
  const files = [...own.matchAll(/^(?:map_\w+|norm)\s+(\S.*?)\s*$/gm)].map(([, all]) => all.split(/\s+/).at(-1)!);
  const [mask, dissolve] = [fileOf('map_d'), Number(last('d') ?? 1)];
  return {
    mode: mask || dissolve < 1 ? 'blend' : 'opaque',
    cutoff: 0,
    opacity: dissolve,
    doubleSided: null,
    colour: fileOf('map_Kd'),
    alpha: mask ? { file: mask, channel: 'luminance' } : null,
    files,
  };
}
