import { describe, expect, test } from '@jest/globals';
import { pictureTools } from '@lithe-sieve/host';
import { validateBytes } from 'gltf-validator';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  assertPattern,
  bytesOfDds,
  fileStem,
  makeLevels,
  makeMask,
  makePicture,
  makeStep,
  packHandOff,
  PIECE_DEFAULTS,
  PROFILES,
  readBack,
  NORMALS,
  readDds,
  readDdsLevels,
  readPng,
  SURFACE,
  type AlphaMode,
  type GltfMaterial,
  type MapName,
  type PackTools,
  type PieceDoc,
  type Raster,
  type Samples,
} from '../src/testing.ts';
import { platform } from './helpers/node-codecs.ts';
import { noiseMask, noisePicture, stateOf } from './helpers/pictures.ts';

const state = stateOf(noisePicture(1, 20, 30), noiseMask(2, 20, 30));
const tools: PackTools = {
  ...pictureTools,
  glb: glbTools,
};
const doc = (values: Partial<PieceDoc>): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  name: 'Sea-aster “leaf” ü',
  sources: [],
  run: [makeStep('p', 'invert')],
  ...values,
});
const failed = (checks: { ok: boolean; what: string }[]) => checks.filter((c) => !c.ok).map((c) => c.what);

interface GltfJson {
  meshes: { name: string }[];
  nodes: { name: string }[];
  extensionsUsed?: string[];
  materials: GltfMaterial[];
  accessors: { max: number[] }[];
}

function jsonOf(glb: Uint8Array): GltfJson {
  const bytes = Buffer.from(glb);
  return JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as GltfJson;
}

describe('maps in a hand-off', () => {
  const own = { width: 20, height: 30 };
  const grey = (seed: number) => noiseMask(seed, 20, 30);
  const normal = Uint16Array.from({ length: 1800 }, (_, i) => [36000, 40000, 64000][i % 3]);
  const mapped = {
    ...state,
    maps: new Map<MapName, Raster<Samples>>([
      ['normal', { ...own, channels: 3, data: normal }],
      ['roughness', grey(5)],
      ['occlusion', grey(6)],
      ['height', { ...own, channels: 1, data: Uint16Array.from({ length: 600 }, (_, i) => i * 100) }],
    ]),
  };

  test.each(['glb', 'all-maps', 'packed-maps'] as const)(
    '%s: valid, and equal when it is read back',
    async (profile) => {
      const piece = doc({ handOff: { profile, pattern: '{piece}_{map}', green: 'DirectX' } });
      const files = await packHandOff(piece, mapped, tools);
      expect(failed(await readBack(files, piece, tools))).toEqual([]);
      const slots = {
        glb: ['card'],
        'all-maps': ['base', 'height', 'normal', 'roughness', 'occlusion'],
        'packed-maps': ['base', 'normal', 'surface'],
      };
      expect(files.map((f) => f.plan.slot)).toEqual(slots[profile]);
    },
  );

  test('a GLB has normals with green up, and roughness and occlusion where glTF 2.0 §3.9 reads them', async () => {
    const [file] = await packHandOff(
      doc({ handOff: { profile: 'glb', pattern: '{piece}', green: 'DirectX' } }),
      mapped,
      tools,
    );
    const glb = await glbTools.read(file.bytes);
    const [up, surface] = [NORMALS, SURFACE].map((slot) => glb.imageOf((material) => slot.textureOf(material)));
    const directions = (await readPng(up!, platform)).raster;
    expect([...directions.data.subarray(0, 3)]).toEqual([140, 156, 249]);
    const packed = (await readPng(surface!, platform)).raster;
    expect([...packed.data.subarray(0, 3)]).toEqual([grey(6).data[0], grey(5).data[0], 0]);
    const json = jsonOf(file.bytes);
    const [{ pbrMetallicRoughness: factors, occlusionTexture }] = json.materials;
    expect(factors.metallicFactor).toBe(0);
    expect(factors.roughnessFactor ?? 1).toBe(1); // the default of glTF 2.0 §5.22
    expect(occlusionTexture).toEqual({ index: 2 });
  });

  // KHR_materials_specular and KHR_materials_diffuse_transmission, as Khronos specifies them: F0 is 0.04 times the colour
  // factor times the texture decoded from sRGB (IEC 61966-2-1); what goes through is the alpha of its texture
  test('a GLB has specular and translucency, and says what it has no place for', async () => {
    const more = {
      ...mapped,
      maps: new Map([...mapped.maps, ['specular', grey(7)], ['translucency', grey(8)]] as const),
    };
    const hashed = { by: 'hashed', samples: 4 } as const;
    const piece = doc({ drawn: hashed, handOff: { profile: 'glb', pattern: '{piece}', green: 'OpenGL' } });
    const [file] = await packHandOff(piece, more, tools);
    const checks = await readBack([file], piece, tools);
    expect(failed(checks)).toEqual([]);
    expect(checks.map((c) => c.what)).toEqual(expect.arrayContaining(['specular texture', 'translucency texture']));
    expect(checks.find((c) => c.what.startsWith('without a place'))?.found).toBe(
      'left out: height, a clip that is hashed',
    );
    const json = jsonOf(file.bytes);
    expect(json.extensionsUsed?.sort()).toEqual(['KHR_materials_diffuse_transmission', 'KHR_materials_specular']);
    const { KHR_materials_specular: mirror, KHR_materials_diffuse_transmission: through } = json.materials[0]
      .extensions as Required<NonNullable<GltfMaterial['extensions']>>;
    const glb = await glbTools.read(file.bytes);
    const image = async (index: number) =>
      (
        await readPng(
          glb.imageOf(() => ({ index }))!,
          platform,
        )
      ).raster;
    const shine = await image(mirror.specularColorTexture.index);
    const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
    for (let i = 0; i < 64; i++) {
      const reflectance = 0.04 * mirror.specularColorFactor[0] * linear(shine.data[3 * i] / 255);
      expect(Math.abs(reflectance - 0.08 * (grey(7).data[i] / 255))).toBeLessThan(0.0004);
    }
    const alpha = await image(through.diffuseTransmissionTexture!.index);
    expect([through.diffuseTransmissionFactor, alpha.data[3], alpha.data[7]]).toEqual([
      1,
      grey(8).data[0],
      grey(8).data[1],
    ]);
    expect(through.diffuseTransmissionColorTexture).toEqual({ index: 0 }); // the colour of the sheet
  });

  test('green is turned over for DirectX, 16 bits deep', async () => {
    const files = await packHandOff(
      doc({ handOff: { profile: 'all-maps', pattern: '{map}', green: 'DirectX' } }),
      mapped,
      tools,
    );
    const written = files.find((f) => f.plan.slot === 'normal')!;
    const { raster } = await readPng(written.bytes, platform);
    expect([...raster.data.subarray(0, 3)]).toEqual([36000, 65536 - 40000, 64000]);
  });
});

describe('profiles', () => {
  test.each(PROFILES.map((p) => p.id))('%s: what is written reads back equal', async (profile) => {
    const piece = doc({ handOff: { profile, pattern: '{piece}_{map}', green: 'OpenGL' } });
    const files = await packHandOff(piece, state, tools);
    const checks = await readBack(files, piece, tools);
    expect(failed(checks)).toEqual([]);
    expect(checks.some((c) => c.what === 'texels')).toBe(true);
    // a mask alone is most often opened as a picture: 188/255 is the sRGB value of one half (IEC 61966-2-1)
    const read = checks.filter((c) => c.what === 'to be read as').map((c) => c.found);
    const mask = state.mask.data;
    const kept = [128, 188].map(
      (least) => `${((100 * mask.filter((v) => v >= least).length) / mask.length).toFixed(1)} %`,
    );
    const alone = files.filter((f) => f.plan.holds === 'mask'); // a field of distances keeps nothing by itself
    const said = (divided: boolean) =>
      `linear${divided ? '' : `; as sRGB ${kept[1]} would be kept instead of ${kept[0]}`}`;
    expect(read).toEqual(alone.map((f) => said('divisor' in f.plan)));
  });

  // Khronos glTF-Validator: no error, no warning; glTF 2.0 §3.9.4
  test.each(['opaque', 'mask', 'blend'] as AlphaMode[])(
    'the GLB in mode %s satisfies the glTF validator',
    async (mode) => {
      const piece = doc({ material: { mode, cutoff: 0.37, doubleSided: mode === 'mask', opacity: 0.75 } });
      const [file] = await packHandOff(piece, state, tools);
      const report = await validateBytes(file.bytes);
      expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
      expect(report.info).toMatchObject({
        version: '2.0',
        drawCallCount: 1,
        totalVertexCount: 4,
        totalTriangleCount: 2,
      });
      const json = jsonOf(file.bytes);
      const [{ alphaMode = 'OPAQUE', doubleSided = false, name, alphaCutoff }] = json.materials; // defaults of §5.19
      expect([alphaMode, doubleSided, name]).toEqual([mode.toUpperCase(), mode === 'mask', piece.name]);
      expect(alphaCutoff).toBe(mode === 'mask' ? 0.37 : undefined);
      expect(json.accessors[0].max[1]).toBeCloseTo(0.75, 6); // 0.5 m wide, 20 × 30 texels
    },
  );
});

describe('a DDS with its levels', () => {
  const piece = doc({ handOff: { profile: 'dds-bc7', pattern: '{piece}_{map}', green: 'OpenGL' } });

  test('has the head that the programming guide for DDS wants, and sizes as Vulkan 1.3 §11.8 has them', async () => {
    const [{ bytes, name }] = await packHandOff(piece, state, tools);
    expect(name).toMatch(/_base\.dds$/);
    const word = (at: number) => new DataView(bytes.buffer).getUint32(at, true);
    expect(Buffer.from(bytes.subarray(0, 4)).toString()).toBe('DDS ');
    expect([4, 12, 16, 28, 76].map(word)).toEqual([124, 30, 20, 5, 32]);
    expect(Buffer.from(bytes.subarray(84, 88)).toString()).toBe('DX10');
    expect([128, 132, 140, 144].map(word)).toEqual([99, 3, 1, 1]); // BC7 in sRGB, 2D, one, straight alpha
    const { format, levels } = readDdsLevels(bytes);
    expect(format).toBe('BC7');
    expect(bytes.length).toBe(bytesOfDds('BC7', 20, 30));
    expect(levels.map((l) => [l.width, l.height])).toEqual([
      [20, 30],
      [10, 15],
      [5, 7],
      [2, 3],
      [1, 1],
    ]);
    expect(readDds(bytes).raster.data).toEqual(levels[0].data);
    expect(() => readDdsLevels(bytes.subarray(0, bytes.length - 1))).toThrow('cut off');
  });

  test('holds levels of our own where the piece makes them: kept coverage, colour that what is dropped does not tint', async () => {
    const colour = makePicture(
      16,
      16,
      new Uint8Array(1024).map((_, i) => ((i >> 2) % 4 === 0 ? [200, 120, 40, 255] : [0, 255, 0, 255])[i % 4]),
    );
    const mask = makeMask(
      16,
      16,
      new Uint8Array(256).map((_, i) => (i % 4 === 0 ? 255 : 0)),
    );
    const own = doc({
      levels: { ...PIECE_DEFAULTS.levels, madeBy: 'file', keep: 'local' },
      handOff: { profile: 'dds-rgba', pattern: '{piece}', green: 'OpenGL' },
    });
    const [{ bytes }] = await packHandOff(own, stateOf(colour, mask), tools);
    const { levels } = readDdsLevels(bytes);
    const made = makeLevels(mask, own.material, own.levels).levels;
    for (const [i, level] of levels.entries()) {
      expect(level.data.filter((_, c) => c % 4 === 3)).toEqual(made[i].data);
      for (let t = 0; t < level.data.length; t += 4) {
        if (i > 0 && t % 8 === 0) expect([...level.data.subarray(t, t + 3)]).toEqual([200, 120, 40]);
      }
    }
    const share = ({ data }: { data: Uint8Array }) => data.filter((v) => v >= 128).length / data.length;
    expect(made.slice(0, 3).map(share)).toEqual([0.25, 0.25, 0.25]);
  });

  test('reading back finds a texel on the other side, on any level', async () => {
    const [file] = await packHandOff({ ...piece, handOff: { ...piece.handOff, profile: 'dds-rgba' } }, state, tools);
    const { width, height, data } = readDdsLevels(file.bytes).levels[2];
    const bytes = file.bytes.slice();
    const at = bytes.length - 4 * (width * height + 6 + 1) + 3;
    expect(bytes[at]).toBe(data[3]);
    bytes[at] ^= 255;
    expect(failed(await readBack([{ ...file, bytes }], piece, tools))).toEqual(['texels', 'clip']);
  });
});

describe('reading back', () => {
  const piece = doc({ handOff: { profile: 'rgb-and-mask', pattern: '{piece}_{map}', green: 'OpenGL' } });

  test('finds a wrong texel, an inverted mask and a broken file', async () => {
    const [base, mask] = await packHandOff(piece, state, tools);
    const inverted = { ...state.mask, data: state.mask.data.map((v) => 255 - v) };
    const wrong = [
      { ...base, bytes: base.bytes.subarray(0, 100) },
      { ...mask, bytes: await tools.encodePng(inverted) },
    ];
    expect(failed(await readBack(wrong, piece, tools))).toEqual(['opens', 'polarity', 'texels']);
    const one = { ...state.mask, data: state.mask.data.slice() };
    one.data[5] ^= 1;
    const checks = await readBack([{ ...mask, bytes: await tools.encodePng(one) }], piece, tools);
    expect(checks.find((c) => !c.ok)).toMatchObject({ what: 'texels', found: '1 differ' });
  });

  test('finds alpha where none was meant, and another size', async () => {
    const [base] = await packHandOff(piece, state, tools);
    const withAlpha = { ...base, bytes: await tools.encodePng(state.colour) };
    expect(failed(await readBack([withAlpha], piece, tools))).toEqual(['alpha']);
    const small = {
      ...base,
      bytes: await tools.encodePng({ width: 1, height: 1, channels: 3, data: new Uint8Array(3) }),
    };
    expect(failed(await readBack([small], piece, tools))).toEqual(['size']);
  });

  test('finds a material that is not the piece’s', async () => {
    const glb = doc({});
    const files = await packHandOff(glb, state, tools);
    const other = doc({ material: { mode: 'mask', cutoff: 0.25, doubleSided: false, opacity: 1 } });
    expect(failed(await readBack(files, other, tools))).toEqual(['cutoff', 'double-sided']);
  });
});

describe('file names', () => {
  test('hold what every target can read', () => {
    expect(fileStem(doc({}), { slot: 'base', size: { width: 20, height: 30 } })).toBe('Sea-aster-leaf-u_base');
    for (const device of ['CON', 'nul', 'Com1.x', 'LPT9'])
      expect(
        fileStem(doc({ name: device, handOff: { profile: 'glb', pattern: '{piece}', green: 'OpenGL' } }), {
          slot: 'base',
          size: { width: 1, height: 1 },
        }),
      ).toBe(`piece-${device}`);
    expect(fileStem(doc({ name: '../../葉' }), { slot: 'mask', size: { width: 1, height: 1 } })).toBe('piece_mask');
    const told = doc({ handOff: { profile: 'glb', pattern: '{map}_{mode}_{sides}_{size}', green: 'OpenGL' } });
    expect(fileStem(told, { slot: 'base', size: { width: 64, height: 128 } })).toBe('base_masked_two-sided_128');
    const sized = doc({ handOff: { profile: 'glb', pattern: '{piece}.{width}x{height}', green: 'OpenGL' } });
    expect(fileStem(sized, { slot: 'base', size: { width: 20, height: 30 } })).toBe('Sea-aster-leaf-u.20x30');
  });

  test('say which revision of which day it is, and the mode by a word of one’s own; so do materials and meshes', async () => {
    const naming = { material: 'M_{piece}_{mode}', mesh: 'SM {revision}', words: { mask: 'cut', 'two-sided': '2S' } };
    const facts = { revision: 7, date: '2031-04-05' };
    const pattern = '{piece}_{map}_r{revision}_{date}_{mode}_{sides}';
    const piece = doc({ name: 'Blatt Ä', handOff: { profile: 'glb', pattern, green: 'OpenGL', naming } });
    const [file] = await packHandOff(piece, state, { ...tools, facts });
    expect(file.name).toBe('Blatt-A_card_r7_2031-04-05_cut_2S.glb');
    const { materials, meshes, nodes } = jsonOf(file.bytes);
    expect([materials[0].name, meshes[0].name, nodes[0].name]).toEqual(['M_Blatt Ä_cut', 'SM 7', 'SM 7']);
    const wrong = { ...piece, handOff: { ...piece.handOff, naming: { mesh: '{colour}' } } };
    expect(() => assertPattern(wrong)).toThrow('holds {colour}');
  });

  test('a pattern is refused when it is unknown or gives two files one name', () => {
    const pattern = (text: string) => () =>
      assertPattern(doc({ handOff: { profile: 'rgb-and-mask', pattern: text, green: 'OpenGL' } }));
    expect(pattern('{piece}_{map}')).not.toThrow();
    expect(pattern('{piece}')).toThrow('same name');
    expect(pattern('{piece}_{colour}_{map}')).toThrow('holds {colour}');
  });
});
