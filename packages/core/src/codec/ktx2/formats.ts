import type { TextureFormat } from '../texture-format.ts';

/** `KHR_DF_CHANNEL_RGBSDA_ALPHA`, and the flag of a channel that is linear whatever the others are. */
const ALPHA = 15;
const LINEAR = 0x10;

interface Sample {
  /** Bits from the lowest. */
  offset: number;
  bits: number;
  channel: number;
  upper: number;
}
const whole = (offset: number, bits: number, channel: number): Sample => ({ offset, bits, channel, upper: 0xffffffff });
const byte = (offset: number, channel: number): Sample => ({ offset, bits: 8, channel, upper: 255 });

/**
 * What a KTX 2.0 says of its texels: numbers of Vulkan (VkFormat, Vulkan 1.3, §43.1) of values and of colours in sRGB, and
 * the basic descriptor of the Khronos Data Format Specification 1.3 (§5): colour model and samples.
 */
export const KTX2_FORMATS: Record<
  TextureFormat,
  { values: number; colour: number; model: number; side: 1 | 4; bytes: number; samples: readonly Sample[] }
> = {
  r8: { values: 9, colour: 15, model: 1, side: 1, bytes: 1, samples: [byte(0, 0)] },
  rgba8: {
    ...{ values: 37, colour: 43, model: 1, side: 1, bytes: 4 },
    samples: [byte(0, 0), byte(8, 1), byte(16, 2), byte(24, ALPHA)],
  },
  BC1: { values: 133, colour: 134, model: 128, side: 4, bytes: 8, samples: [whole(0, 64, 1)] },
  BC3: { values: 137, colour: 138, model: 130, side: 4, bytes: 16, samples: [whole(0, 64, ALPHA), whole(64, 64, 0)] },
  BC4: { values: 139, colour: 139, model: 131, side: 4, bytes: 8, samples: [whole(0, 64, 0)] },
  BC5: { values: 141, colour: 141, model: 132, side: 4, bytes: 16, samples: [whole(0, 64, 0), whole(64, 64, 1)] },
  BC7: { values: 145, colour: 146, model: 134, side: 4, bytes: 16, samples: [whole(0, 128, 0)] },
};

/** The channel byte of a sample: alpha stays linear beside colours in sRGB. */
export const channelType = ({ channel }: Sample, isSrgb: boolean) => (channel === ALPHA && isSrgb ? ALPHA | LINEAR : channel); // prettier-ignore

export const KTX2_IDENTIFIER = Uint8Array.of(0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb, 0x0d, 0x0a, 0x1a, 0x0a);
/** Identifier, nine words, the index; then an entry for each level. */
export const KTX2_HEAD = 80;
export const KTX2_LEVEL = 24;
/** Schemes of supercompression that are written here (KTX 2.0 §3.10). */
export const KTX2_PLAIN = 0;
export const KTX2_ZLIB = 3;
