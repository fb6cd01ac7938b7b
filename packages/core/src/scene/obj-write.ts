import { digits, nodeName, turned, type CardScene, type SceneMaterial } from './scene.ts';

/**
 * A card as OBJ ("Object Files (.obj)", version 3.0): positions, UVs and normals of every vertex, V up, counter-clockwise.
 *
 * @param library - Name of its material file.
 */
export function writeObj({ name, parts }: CardScene, library: string): string {
  const lines = [`mtllib ${library}`, `o ${nodeName(name, new Set())}`];
  const names = materialNames(parts.map((p) => p.material));
  const [groups, taken] = [[] as string[], new Set<string>()];
  let from = 1;
  for (const { name: part, mesh, material } of parts) {
    const { positions, normals, uvs, indices } = mesh;
    const count = positions.length / 3;
    for (let i = 0; i < count; i++) lines.push(`v ${three(positions, i)}`);
    for (let i = 0; i < count; i++) lines.push(`vt ${digits(uvs[2 * i])} ${digits(turned(uvs[2 * i + 1]))}`);
    for (let i = 0; i < count; i++) lines.push(`vn ${three(normals, i)}`);
    groups.push(`g ${nodeName(part, taken)}`, `usemtl ${names.get(material)!}`);
    for (let t = 0; t < indices.length; t += 3) {
      const corners = [0, 1, 2].map((k) => String(from + indices[t + k]));
      groups.push(`f ${corners.map((c) => `${c}/${c}/${c}`).join(' ')}`);
    }
    from += count;
  }
  return `${[...lines, ...groups].join('\n')}\n`;
}

const three = (of: Float32Array, i: number) => [0, 1, 2].map((k) => digits(of[3 * i + k])).join(' ');

/** Names under which the materials of a card stand in its files, by the material. */
export function materialNames(materials: readonly SceneMaterial[]): Map<SceneMaterial, string> {
  const taken = new Set<string>();
  return new Map([...new Set(materials)].map((m) => [m, nodeName(m.name, taken)]));
}

/** Share of light that is reflected head on where nothing says otherwise, as glTF 2.0 has it (an index of 1.5). */
const REFLECTED = 0.04;
const PICTURES = [
  ['base', 'map_Kd'],
  ['mask', 'map_d'],
  ['normal', 'norm'],
  ['roughness', 'map_Pr'],
  ['metalness', 'map_Pm'],
  ['emission', 'map_Ke'],
] as const;

/**
 * The materials of an OBJ ("MTL Material Format", version 4.2): opacity by `map_d`, its grey 1 for opaque. Roughness,
 * metalness, emission and normals by the statements Pr, Pm, Ke and norm that several programs read. It has no word for a
 * cutoff or for two sides.
 */
export function writeMtl({ parts, wrap }: CardScene): string {
  const clamp = wrap.across === 'clamp' && wrap.down === 'clamp' ? '-clamp on ' : '';
  const out: string[] = [];
  for (const [material, name] of materialNames(parts.map((p) => p.material))) {
    const { pictures, tint, mode, opacity, roughness, emission } = material;
    out.push(`newmtl ${name}`, 'illum 2', `Kd ${tint.map(digits).join(' ')}`);
    out.push(`Ks ${[REFLECTED, REFLECTED, REFLECTED].join(' ')}`, `d ${mode === 'opaque' ? 1 : digits(opacity)}`);
    out.push(`Pr ${digits(roughness)}`, `Pm ${pictures.has('metalness') ? 1 : 0}`);
    if (pictures.has('emission')) out.push(`Ke ${[emission, emission, emission].map(digits).join(' ')}`);
    for (const [use, statement] of PICTURES) {
      const file = pictures.get(use);
      if (file && !(use === 'mask' && mode === 'opaque')) out.push(`${statement} ${clamp}${file}`);
    }
    out.push('');
  }
  return `${out.join('\n')}\n`;
}
