import type { MeshFacts } from './mesh-facts.ts';

/**
 * What a new version of a mesh holds otherwise than the one before, in sentences; empty where only places of it moved.
 *
 * @param slot - The material that shows the piece.
 */
export function meshChanges(before: MeshFacts, after: MeshFacts, slot: string | undefined): string[] {
  const out: string[] = [];
  if (before.triangles !== after.triangles)
    out.push(`It has ${after.triangles} triangles now, it had ${before.triangles}.`);
  const [was, is] = [before, after].map(({ size }) => Math.max(...size));
  if (Math.abs(is / was - 1) > 0.01) out.push(`Its longest side is ${(is / was).toPrecision(3)} times what it was.`);
  if (slot !== undefined && !after.slots.some(({ name }) => name === slot)) {
    out.push(`Its material ${slot} is gone: all of it shows the piece.`);
  }
  if (before.uvUsed > 0 && after.uvUsed === 0) out.push('Its UVs are gone.');
  else if (Math.abs(before.uvArea - after.uvArea) > 0.01 * before.uvArea) out.push('Its UVs lie otherwise now.');
  if (before.mirrored === 0 && after.mirrored > 0)
    out.push(`${after.mirrored} triangles show the picture mirrored now.`);
  return out;
}
