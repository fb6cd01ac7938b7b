import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { Studio } from './studio.ts';
import { Chance, times, type Extent, type Trial } from './trial.ts';

/** One small file of each format that sharp writes, and a DDS and a TGA by hand. */
async function samples(chance: Chance): Promise<[name: string, bytes: Buffer][]> {
  const side = 24;
  const data = Buffer.from(Array.from({ length: side * side * 4 }, (_, i) => ((i * 7919) >> (i % 5)) & 255));
  const picture = () => sharp(data, { raw: { width: side, height: side, channels: 4 } });
  const tga = Buffer.alloc(18 + side * side * 4);
  tga.set([0, 0, 2]);
  tga.writeUInt16LE(side, 12);
  tga.writeUInt16LE(side, 14);
  tga.set([32, 8], 16);
  data.copy(tga, 18);
  const dds = Buffer.from(Array.from({ length: 128 + (side / 4) ** 2 * 16 }, () => chance.below(256)));
  dds.fill(0, 0, 128);
  dds.write('DDS ', 0, 'latin1');
  for (const [value, at] of [[124, 4], [0x1007, 8], [side, 12], [side, 16], [32, 76], [4, 80]]) dds.writeUInt32LE(value, at); // prettier-ignore
  dds.write('DXT5', 84, 'latin1');
  return [
    ['a.png', await picture().png().toBuffer()],
    ['b.png', await picture().png({ palette: true }).toBuffer()],
    ['c.jpg', await picture().jpeg().toBuffer()],
    ['d.jpg', await picture().jpeg({ progressive: true }).toBuffer()],
    ['e.webp', await picture().webp({ lossless: true }).toBuffer()],
    ['f.tif', await picture().tiff({ compression: 'lzw' }).toBuffer()],
    ['g.tga', tga],
    ['h.dds', dds],
  ];
}

/** Damaged files: each is read or refused in words, none takes the server with it. */
export async function mutations(extent: Extent): Promise<Trial> {
  const trial: Trial = { what: 'damaged files of eight kinds', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const chance = new Chance(extent.seed + 6);
  const studio = new Studio();
  await studio.start();
  const files = await samples(chance);
  let read = 0;
  let most = 0;
  const one = async () => {
    const [name, good] = chance.of(files);
    const bad = Buffer.from(good);
    for (let k = 0; k <= chance.below(6); k++) bad[chance.below(bad.length)] = chance.below(256);
    const cut = chance.next() < 0.2 ? bad.subarray(0, chance.below(bad.length)) : bad;
    const { status, hung } = await studio.bringIn(cut, name);
    if (hung || status === 0) trial.hangs++;
    if (status >= 500) trial.errors++;
    if (status === 200) read++;
    trial.tries++;
  };
  const full = times(20_000, extent);
  for (let i = 0; i < full; i += 8) {
    await Promise.all(Array.from({ length: 8 }, one));
    most = Math.max(most, studio.memoryMb);
  }
  if (!studio.running) trial.lost++;
  await studio.stop();
  studio.remove();
  trial.seen = `${read} read, the others refused in words; server at most ${Math.round(most)} MB`;
  return trial;
}

const SIDE = 16384;

function png(depth: number, colour: number, lines: Buffer): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length);
    body.copy(out, 4);
    out.writeUInt32BE(crc(body), body.length + 4);
    return out;
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(SIDE, 0);
  header.writeUInt32BE(SIDE, 4);
  header.set([depth, colour, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([signature, chunk('IHDR', header), chunk('IDAT', lines), chunk('IEND', Buffer.alloc(0))]);
}

/** CRC-32 of PNG, annex D. */
function crc(data: Buffer): number {
  let c = 0xffffffff;
  for (const byte of data) {
    c ^= byte;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  }
  return (c ^ 0xffffffff) >>> 0;
}

/** Small files that claim the largest size, one and two at once: bounded in time and in memory. */
export async function bombs({ share }: Extent): Promise<Trial> {
  const trial: Trial = { what: 'small files that claim 16384²', tries: 0, lost: 0, hangs: 0, errors: 0, seen: '' };
  const studio = new Studio();
  await studio.start();
  const flat = sharp({
    create: { width: SIDE, height: SIDE, channels: 3, background: '#456' },
    limitInputPixels: false,
  });
  const jpeg = await sharp({ create: { width: 256, height: 256, channels: 3, background: '#456' } })
    .jpeg()
    .toBuffer();
  const frame = jpeg.findIndex((b, i) => b === 0xff && jpeg[i + 1] === 0xc0);
  const claiming = Buffer.from(jpeg);
  for (const at of [5, 7]) claiming.writeUInt16BE(SIDE, frame + at);
  const files: [string, Buffer, number][] = [['a JPEG of 256² that says 16384²', claiming, 4]];
  if (share >= 1) {
    files.push(['a flat JPEG', await flat.clone().jpeg().toBuffer(), 4]);
    files.push([
      'a 16-bit PNG of zeros',
      png(16, 6, deflateSync(Buffer.alloc(SIDE * (1 + SIDE * 8)), { level: 9 })),
      8,
    ]);
  }
  files.push(['a PNG whose data is far too short', png(16, 6, deflateSync(Buffer.alloc(1000))), 8]);
  const seen: string[] = [];
  for (const [what, bytes, bytesPerTexel] of files) {
    for (const atOnce of [1, 2]) {
      let most = 0;
      const watch = setInterval(() => (most = Math.max(most, studio.memoryMb)), 50);
      const started = performance.now();
      const answers = await Promise.all(
        Array.from({ length: atOnce }, (_, i) => studio.bringIn(Buffer.concat([bytes, Buffer.alloc(i)]), 'a.png')),
      );
      clearInterval(watch);
      const seconds = (performance.now() - started) / 1000;
      const own = (atOnce * SIDE * SIDE * bytesPerTexel) / 1024 / 1024;
      if (answers.some((a) => a.hung) && atOnce === 1) trial.hangs++;
      if (answers.some((a) => a.status >= 500)) trial.errors++;
      if (most > own + 2048) trial.lost++;
      const size = answers[0].status === 200 ? 'read' : 'refused';
      seen.push(
        `${what}${atOnce > 1 ? ', two at once' : ''}: ${size}, ${seconds.toFixed(1)} s, ${Math.round(most)} MB`,
      );
      trial.tries += atOnce;
    }
  }
  if (!studio.running) trial.lost++;
  await studio.stop();
  studio.remove();
  trial.seen = seen.join('; ');
  return trial;
}
