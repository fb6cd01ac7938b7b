// Each kind of file that a hand-off writes, at 4096², beside sharp in the same run where that writes it: medians of
// interleaved rounds in ms, with the bytes of both.
import sharp, { type Sharp } from 'sharp';
import {
  packHandOff,
  PIECE_DEFAULTS,
  type ChannelFill,
  type PackedFile,
  type PackTools,
  type PieceDoc,
  type RunState,
} from '@lithe-sieve/core/testing';
import { pictureTools } from '@lithe-sieve/host';
import { glbTools } from '@lithe-sieve/host/glb';
import { SIDE } from './big-scan.ts';
import { mask, picture, raw } from './full-size.ts';
import { runRaces, type Race } from './race.ts';

sharp.concurrency(1);
const state = { colour: picture, mask, maps: new Map() } as unknown as RunState;
const tools: PackTools = { ...pictureTools, glb: glbTools };
const of = (channel: 'red' | 'green' | 'blue'): ChannelFill => ({ map: 'colour', channel, inverted: false });
const RGBA: ChannelFill[] = [of('red'), of('green'), of('blue'), { map: 'mask', channel: 'red', inverted: false }];
const docOf = (handOff: Partial<PieceDoc['handOff']>): PieceDoc => ({
  ...structuredClone(PIECE_DEFAULTS),
  ...{ name: 'Scan', sources: [], run: [] },
  handOff: { ...PIECE_DEFAULTS.handOff, ...handOff },
});
const packed = (more: Partial<PackedFile>): PieceDoc =>
  docOf({
    profile: 'own-packing',
    packing: [{ name: 'base', as: 'RGBA', bits: 8, halvings: 0, fills: RGBA, ...more }],
  });
const sizes = new Map<string, number>();
const write = async (name: string, doc: PieceDoc) => {
  const files = await packHandOff(doc, state, tools);
  sizes.set(name, files.reduce((sum, { bytes }) => sum + bytes.length, 0)); // prettier-ignore
};
const visible = Buffer.from(picture.data.map((v, i) => (i % 4 === 3 ? mask.data[i >> 2] : v)));
const theirs = (name: string, encode: (from: Sharp) => Sharp) => async () => {
  sizes.set(`${name}, sharp`, (await encode(sharp(visible, raw)).toBuffer()).length);
};
const race = (name: string, doc: PieceDoc, encode?: (from: Sharp) => Sharp): Race => ({
  name,
  ours: () => write(name, doc),
  ...(encode ? { other: 'sharp', theirs: theirs(name, encode) } : {}),
});

console.log(`${SIDE}², RGBA; medians of 2 in ms\n`);
await runRaces(
  [
    race('PNG, 8 bits', packed({}), (s) => s.png({ compressionLevel: 6 })),
    race('TIFF, 8 bits, deflate', packed({ format: 'tif' }), (s) => s.tiff({ compression: 'deflate' })),
    race('TGA, run-length encoded', packed({ format: 'tga' })),
    race('WebP, lossless', packed({ format: 'webp' }), (s) => s.webp({ lossless: true, exact: true, effort: 0 })),
    race('DDS, BC1, all levels', docOf({ profile: 'dds-bc1' })),
    race('DDS, BC7, all levels', docOf({ profile: 'dds-bc7' })),
    race('KTX2, BC1 and zlib, all levels', docOf({ profile: 'dds-bc1', container: 'KTX2, zlib' })),
    race('KTX2, RGBA, all levels', docOf({ profile: 'dds-rgba', container: 'KTX2' })),
    race('GLB', docOf({ profile: 'glb' })),
    race('glTF apart', docOf({ profile: 'gltf' })),
    race('USDZ', docOf({ profile: 'usdz' })),
    race('MaterialX, two documents', docOf({ profile: 'materialx' })),
    race('OBJ + MTL, colour and mask apart', docOf({ profile: 'obj' })),
  ],
  3,
);
console.log('\nMB:');
for (const [name, bytes] of sizes) console.log(`${name.padEnd(44)} ${(bytes / 1e6).toFixed(1)}`);
