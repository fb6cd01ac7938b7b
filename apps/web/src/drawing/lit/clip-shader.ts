import { DITHER_SIDE, bayerMatrix } from '@lithe-sieve/core';

/** Thresholds of the ordered dither, row by row. */
export function bayerThresholds(): Float32Array {
  const all = DITHER_SIDE * DITHER_SIDE;
  return Float32Array.from(bayerMatrix(DITHER_SIDE), (rank) => (rank + 0.5) / all);
}

/** How much of a pixel a masked surface covers: core's `drawClip`, at any size and slant. `cardDrawn` is a place in `CLIP_DRAWINGS`. */
export const CLIP_SHADER = /* glsl */ `
uniform sampler2D cardMask;
uniform int cardMode, cardDrawn;
uniform float cardCutoff, cardOpacity, cardSamples, cardBias;
uniform float cardDither[${DITHER_SIDE * DITHER_SIDE}];

uint pcg(uint v) {
  uint state = v * 747796405u + 2891336453u;
  uint word = ((state >> ((state >> 28u) + 4u)) ^ state) * 277803737u;
  return (word >> 22u) ^ word;
}

float hashOf(vec2 cell) {
  ivec2 at = ivec2(cell);
  return float(pcg(uint(at.x) + pcg(uint(at.y)))) / 4294967296.0;
}

float hashedThreshold(vec2 at) {
  float pixel = max(length(dFdx(at)), length(dFdy(at)));
  float level = log2(1.0 / pixel);
  float blend = level - floor(level);
  float x = mix(hashOf(floor(exp2(floor(level)) * at)), hashOf(floor(exp2(ceil(level)) * at)), blend);
  float a = min(blend, 1.0 - blend);
  float even = x >= 1.0 - a ? 1.0 - (1.0 - x) * (1.0 - x) / (2.0 * a * (1.0 - a))
    : x < a ? x * x / (2.0 * a * (1.0 - a)) : (x - 0.5 * a) / (1.0 - a);
  return clamp(even, 1e-6, 1.0);
}

float coverOf(float alpha, vec2 uv) {
  vec2 size = vec2(textureSize(cardMask, 0));
  if (cardDrawn == 1) return alpha >= hashedThreshold(uv * size / max(size.x, size.y)) ? 1.0 : 0.0;
  if (cardDrawn == 2) {
    ivec2 at = ivec2(gl_FragCoord.xy) % ${DITHER_SIDE};
    return alpha >= cardDither[at.y * ${DITHER_SIDE} + at.x] ? 1.0 : 0.0;
  }
  float change = fwidth(alpha);
  if (cardDrawn == 0 || change < 0.001 || cardCutoff <= 0.0) return alpha >= cardCutoff ? 1.0 : 0.0;
  float cover = clamp((alpha - cardCutoff) / change + 0.5, 0.0, 1.0);
  return floor(cover * cardSamples + 0.5) / cardSamples;
}
`;
