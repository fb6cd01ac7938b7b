/** @jest-environment node */
import { describe, expect, test } from '@jest/globals';
import { isSieveError, readPng, writePng, type CodecPlatform } from '@lithe-sieve/core';
import { strToU8, unzlibSync, zipSync, zlibSync, type Zippable } from 'fflate';
import { isOpenRaster, openRasterLayers } from '../src/workers/layered';

/** Tests run in Node; the application's own code has no types of it. */
declare const process: { env: Record<string, string | undefined>; memoryUsage: { rss(): number } };

const join = (parts: Iterable<Uint8Array>) => Uint8Array.from([...parts].flatMap((p) => [...p]));
const platform: CodecPlatform = {
  inflate: (parts) => Promise.resolve(unzlibSync(join(parts))),
  decodeJpeg: () => Promise.reject(new Error('none')),
  decodeWebp: () => Promise.reject(new Error('none')),
};
const png = (width: number, height: number, rgba: number[]) =>
  writePng({ width, height, channels: 4, data: Uint8Array.from(rgba) }, (s) => Promise.resolve(zlibSync(join(s))));

/** As the specification asks: `mimetype` first and stored. */
function ora(stack: string, files: Zippable): Uint8Array {
  return zipSync({ mimetype: [strToU8('image/openraster'), { level: 0 }], 'stack.xml': strToU8(stack), ...files });
}
const code = (bytes: Uint8Array) =>
  openRasterLayers(bytes, platform).then(
    () => 'read',
    (e: unknown) => (isSieveError(e) ? e.code : String(e)),
  );

describe('OpenRaster', () => {
  const two = () => png(2, 1, [9, 8, 7, 255, 1, 2, 3, 0]);

  test('every layer in its own size: name, place and opacity, through nested stacks; the merged image first', async () => {
    const file = ora(
      `<image w="3" h="2"><stack><stack x="1" opacity="0.5"><layer name="veins" src="data/a.png" y="1" opacity="0.5"/></stack>
       <layer name="" src="data/a.png" x="-1"/></stack></image>`,
      { 'mergedimage.png': await two(), 'data/a.png': await two() },
    );
    expect(isOpenRaster(file)).toBe(true);
    const layers = await openRasterLayers(file, platform);
    expect(layers.map((l) => [l.name, l.place])).toEqual([
      ['merged', null],
      ['veins', { x: 1, y: 1 }],
      ['layer 2', { x: -1, y: 0 }],
    ]);
    expect([layers[0].png, layers[2].png]).toEqual([await two(), await two()]);
    const { raster } = await readPng(layers[1].png, platform);
    // alpha 255 · ¼; the texel beside it keeps its colour under alpha 0
    expect([raster.width, raster.height, ...raster.data]).toEqual([2, 1, 9, 8, 7, 64, 1, 2, 3, 0]);
  });

  test('without a merged image the largest layer comes first, and the others lie on it', async () => {
    const stack =
      '<image w="9" h="9"><stack><layer name="small" src="data/a.png" x="5" y="4"/><layer name="large" src="data/b.png" x="2" y="1"/></stack></image>';
    const large = await png(
      2,
      2,
      Array.from({ length: 16 }, (_, i) => i),
    );
    const layers = await openRasterLayers(ora(stack, { 'data/a.png': await two(), 'data/b.png': large }), platform);
    expect(layers).toEqual([
      { name: 'large', png: large, place: null },
      { name: 'small', png: await two(), place: { x: 3, y: 3 } },
    ]);
  });

  test('a canvas of the largest size with many small layers takes no longer than they do', async () => {
    const layers = Array.from({ length: 64 }, (_, i) => `<layer src="data/a.png" x="${200 * i}"/>`).join('');
    const file = ora(`<image w="16384" h="16384"><stack>${layers}</stack></image>`, { 'data/a.png': await two() });
    const started = performance.now();
    expect((await openRasterLayers(file, platform)).length).toBe(64);
    expect(performance.now() - started).toBeLessThan(2000);
  });

  /** `FUZZ=2000 npm run unit -- layered` for more. */
  test('mutated files are read or refused, never more', async () => {
    const side = 24;
    const layer = await png(
      side,
      side,
      Array.from({ length: 4 * side * side }, (_, i) => (i * 7919) >> 3),
    );
    const file = ora(
      `<image w="${side}" h="${side}"><stack><layer name="a" src="data/a.png" x="3" opacity="0.5"/><layer src="data/b.png"/></stack></image>`,
      { 'mergedimage.png': layer, 'data/a.png': layer, 'data/b.png': layer },
    );
    let state = 17;
    const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296;
    const outcomes = new Map<string, number>();
    for (let round = 0; round < Number(process.env['FUZZ'] ?? 250); round++) {
      const bad = new Uint8Array(file);
      for (let k = 0; k <= round % 7; k++) bad[Math.floor(next() * bad.length)] = Math.floor(256 * next());
      const started = performance.now();
      const said = await code(next() < 0.2 ? bad.subarray(0, Math.floor(next() * bad.length)) : bad);
      expect(said).toMatch(/^(read|corrupt|truncated|too-large|unknown-format|unsupported|empty-file)$/);
      outcomes.set(said, (outcomes.get(said) ?? 0) + 1);
      expect(performance.now() - started).toBeLessThan(1000);
    }
    expect(outcomes.get('read')).toBeGreaterThan(0);
    expect(outcomes.get('corrupt')).toBeGreaterThan(50); // most damage is found, not read as something else
  });

  test('what is damaged, hostile or not there is refused with a reason', async () => {
    const one = await png(1, 1, [1, 2, 3, 4]);
    expect(await code(ora('<image w="1" h="1"><stack><layer src="data/b.png"/></stack></image>', {}))).toBe('corrupt');
    expect(
      await code(
        ora('<image w="1" h="1"><stack><layer src="../../etc/passwd"/></stack></image>', { '../../etc/passwd': one }),
      ),
    ).toBe('corrupt');
    expect(await code(ora('<image w="99999" h="99999"/>', {}))).toBe('corrupt');
    expect(await code(ora('<image w="1" h="1"><stack>', {}))).toBe('corrupt');
    expect(await code(ora('<!DOCTYPE x [<!ENTITY a "aaaa">]><image w="1" h="1"><stack/></image>', {}))).not.toBe(
      'TypeError',
    );
    expect(await code(zipSync({ mimetype: [strToU8('image/openraster'), { level: 0 }] }))).toBe('corrupt');
    const bomb = ora('<image w="1" h="1"><stack><layer src="data/a.png"/></stack></image>', { 'data/a.png': one });
    const at = new TextDecoder('latin1').decode(bomb).lastIndexOf('data/a.png') - 46 + 24; // size in the central directory
    new DataView(bomb.buffer).setUint32(at, 0x7fffffff, true);
    expect(await code(bomb)).toBe('too-large');
    for (let cut = 60; cut < bomb.length; cut += 37)
      expect(['corrupt', 'too-large']).toContain(await code(bomb.subarray(0, cut)));
  });
});
