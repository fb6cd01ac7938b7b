import type { SurfaceMesh } from '../card/surface-mesh.ts';
import { SCENE_UNITS } from '../piece/scene-space.ts';
import { digits, nodeName, turned, type CardScene, type SceneMaterial, type ScenePart } from './scene.ts';

type Output = 'rgb' | 'r' | 'g' | 'b' | 'a';

/**
 * A card as a layer of USD in text, with UsdPreviewSurface (specification of 2021-12, version 2.5): textures through
 * UsdUVTexture, colour as sRGB and all else raw. A mask has its cutoff as `opacityThreshold`; opacity of at least that is
 * opaque.
 */
export function writeUsda({ name, parts, wrap, space }: CardScene): string {
  const root = nodeName(name, new Set());
  const taken = new Set(['materials']);
  const places = new Map<SceneMaterial, string>();
  const materials: string[] = [];
  const named = new Set<string>();
  for (const { material } of parts) {
    if (places.has(material)) continue;
    const own = nodeName(material.name, named);
    const path = `/${root}/Materials/${own}`;
    places.set(material, path);
    materials.push(materialOf(material, own, path, wrap));
  }
  const meshes = parts.map((part) => meshOf(part, nodeName(part.name, taken), places.get(part.material)!));
  return `#usda 1.0
(
    defaultPrim = "${root}"
    metersPerUnit = ${SCENE_UNITS[space.unit]}
    upAxis = "${space.up}"
)

def Xform "${root}" (
    kind = "component"
)
{
${meshes.join('\n')}
    def Scope "Materials"
    {
${materials.join('\n')}    }
}
`;
}

function meshOf({ mesh, material }: ScenePart, name: string, path: string): string {
  const { positions, normals, uvs, indices, rootTip } = mesh;
  const faces = new Array<string>(indices.length / 3).fill('3').join(', ');
  const vectors = (of: Float32Array, size: number, each = (v: number, _k: number) => v) => {
    const out: string[] = [];
    for (let i = 0; i < of.length; i += size) {
      const values = Array.from({ length: size }, (_, k) => digits(each(of[i + k], k)));
      out.push(`(${values.join(', ')})`);
    }
    return out.join(', ');
  };
  const sway = rootTip
    ? `        float[] primvars:rootTip = [${Array.from(rootTip, digits).join(', ')}] (
            interpolation = "vertex"
        )
`
    : '';
  return `    def Mesh "${name}" (
        prepend apiSchemas = ["MaterialBindingAPI"]
    )
    {
        uniform bool doubleSided = ${material.doubleSided ? 1 : 0}
        float3[] extent = [${extentOf(mesh)}]
        int[] faceVertexCounts = [${faces}]
        int[] faceVertexIndices = [${Array.from(indices).join(', ')}]
        rel material:binding = <${path}>
        normal3f[] normals = [${vectors(normals, 3)}] (
            interpolation = "vertex"
        )
        point3f[] points = [${vectors(positions, 3)}]
        texCoord2f[] primvars:st = [${vectors(uvs, 2, (v, k) => (k === 1 ? turned(v) : v))}] (
            interpolation = "vertex"
        )
${sway}        uniform token subdivisionScheme = "none"
    }
`;
}

function extentOf({ positions }: SurfaceMesh): string {
  const ends = [Math.min, Math.max].map((end, n) => {
    const at = [0, 1, 2].map((k) => {
      let found = n === 0 ? Infinity : -Infinity;
      for (let i = k; i < positions.length; i += 3) found = end(found, positions[i]);
      return digits(found);
    });
    return `(${at.join(', ')})`;
  });
  return ends.join(', ');
}

function materialOf(material: SceneMaterial, name: string, path: string, wrap: CardScene['wrap']): string {
  const { pictures, slots, tint, opacity, mode, cutoff, emission, roughness } = material;
  const textures: string[] = [];
  const texture = (
    use: 'base' | 'normal' | 'surface' | 'emission',
    outputs: readonly Output[],
    more: { scale?: readonly number[]; bias?: readonly number[] } = {},
  ) => {
    const four = (values: readonly number[]) => `(${values.map(digits).join(', ')})`;
    const { scale, bias } = more;
    textures.push(`            def Shader "${use}"
            {
                uniform token info:id = "UsdUVTexture"
                asset inputs:file = @./${pictures.get(use)!}@
${bias ? `                float4 inputs:bias = ${four(bias)}\n` : ''}${scale ? `                float4 inputs:scale = ${four(scale)}\n` : ''}                token inputs:sourceColorSpace = "${use === 'base' || use === 'emission' ? 'sRGB' : 'raw'}"
                float2 inputs:st.connect = <${path}/st.outputs:result>
                token inputs:wrapS = "${wrap.across}"
                token inputs:wrapT = "${wrap.down}"
${outputs.map((o) => `                float${o === 'rgb' ? '3' : ''} outputs:${o}\n`).join('')}            }
`);
  };
  const inputs: string[] = [];
  const put = (type: string, input: string, value: string | number) =>
    inputs.push(`                ${type} inputs:${input} = ${value}`);
  const connect = (type: string, input: string, use: string, output: Output) =>
    inputs.push(`                ${type} inputs:${input}.connect = <${path}/${use}.outputs:${output}>`);

  if (pictures.has('base')) {
    // a mask at 0 drops nothing, where a threshold of 0 would blend
    const clips = mode === 'blend' || (mode === 'mask' && cutoff > 0);
    const scale = [...tint, opacity];
    texture('base', clips ? ['rgb', 'a'] : ['rgb'], scale.some((v) => v !== 1) ? { scale } : {});
    connect('color3f', 'diffuseColor', 'base', 'rgb');
    if (clips) connect('float', 'opacity', 'base', 'a');
    if (clips && mode === 'mask') put('float', 'opacityThreshold', digits(cutoff));
  } else put('color3f', 'diffuseColor', `(${tint.map(digits).join(', ')})`);
  if (pictures.has('normal')) {
    texture('normal', ['rgb'], { bias: [-1, -1, -1, 0], scale: [2, 2, 2, 1] });
    connect('normal3f', 'normal', 'normal', 'rgb');
  }
  const held = pictures.has('surface');
  const channels =
    ([['occlusion', 'r', 'occlusion'], ['roughness', 'g', 'roughness'], ['metallic', 'b', 'metalness']] as const) // prettier-ignore
      .filter(([, , slot]) => held && slots.has(slot));
  if (channels.length > 0) texture('surface', channels.map(([, output]) => output)); // prettier-ignore
  for (const [input, output] of channels) connect('float', input, 'surface', output);
  if (!held || !slots.has('roughness')) put('float', 'roughness', digits(roughness));
  if (!held || !slots.has('metalness')) put('float', 'metallic', 0);
  if (pictures.has('emission')) {
    texture('emission', ['rgb'], emission === 1 ? {} : { scale: [emission, emission, emission, 1] });
    connect('color3f', 'emissiveColor', 'emission', 'rgb');
  }
  const reader = textures.length
    ? `            def Shader "st"
            {
                uniform token info:id = "UsdPrimvarReader_float2"
                string inputs:varname = "st"
                float2 outputs:result
            }
`
    : '';
  return `        def Material "${name}"
        {
            token outputs:surface.connect = <${path}/surface_shader.outputs:surface>

            def Shader "surface_shader"
            {
                uniform token info:id = "UsdPreviewSurface"
${inputs.join('\n')}
                token outputs:surface
            }
${reader}${textures.join('')}        }
`;
}
