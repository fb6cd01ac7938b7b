/** What is shown instead of the light on a card. */
export const OVERLAYS = ['none', 'wireframe', 'levels', 'density', 'normals', 'UVs', 'tangents'] as const;
export type Overlay = (typeof OVERLAYS)[number];

/** Of mip levels, level 0 first, and again from the eighth on; linear. */
export const LEVEL_TINTS = [
  [0.9, 0.9, 0.9],
  [0.1, 0.55, 0.9],
  [0.1, 0.7, 0.35],
  [0.9, 0.75, 0.1],
  [0.9, 0.35, 0.05],
  [0.75, 0.1, 0.3],
  [0.45, 0.15, 0.7],
  [0.2, 0.2, 0.25],
] as const;

const glsl = (colour: readonly number[]) => `vec3(${colour.map((v) => v.toFixed(3)).join(', ')})`;

/** Replaces the light: `cardOverlay` is a place in `OVERLAYS`. Levels by the longer side of a pixel in texels (OpenGL ES 3.0 §3.8.10.1). */
export const OVERLAY_SHADER = /* glsl */ `
if (cardOverlay == 1) outgoingLight = vec3(0.0, 0.2, 0.8);
if (cardOverlay > 1) {
  vec2 texels = vMapUv * vec2(textureSize(cardMask, 0));
  vec2 dx = dFdx(texels), dy = dFdy(texels);
  vec3 tint = vec3(0.0);
  if (cardOverlay == 2) {
    float level = max(0.0, 0.5 * log2(max(dot(dx, dx), dot(dy, dy))));
    vec3 tints[${LEVEL_TINTS.length}] = vec3[](${LEVEL_TINTS.map(glsl).join(', ')});
    tint = tints[int(level + 0.5) % ${LEVEL_TINTS.length}];
  } else if (cardOverlay == 3) {
    vec2 size = vec2(textureSize(cardMask, 0));
    float perUnit = sqrt(length(cross(vec3(dx, 0.0), vec3(dy, 0.0))) / max(1e-12, length(cross(dFdx(vViewPosition), dFdy(vViewPosition)))));
    float off = clamp(log2(perUnit / max(size.x, size.y)) * 0.5, -1.0, 1.0);
    tint = off < 0.0 ? mix(vec3(0.3), vec3(0.7, 0.08, 0.03), -off) : mix(vec3(0.3), vec3(0.03, 0.15, 0.7), off);
  } else if (cardOverlay == 4) {
    tint = inverseTransformDirection(normal, viewMatrix) * 0.5 + 0.5;
  } else if (cardOverlay == 6) {
    vec3 along = cardFrame(-vViewPosition, normal, vMapUv)[0] * faceDirection;
    tint = inverseTransformDirection(along, viewMatrix) * 0.5 + 0.5;
  } else {
    vec2 cell = floor(vMapUv * 16.0);
    float even = mod(cell.x + cell.y, 2.0);
    tint = vec3(fract(vMapUv), 0.25) * mix(0.45, 1.0, even);
  }
  outgoingLight = tint * (cardOverlay == 4 || cardOverlay == 6 ? 1.0 : 0.55 + 0.45 * clamp(dot(normal, normalize(vViewPosition)), 0.0, 1.0));
}
if (cardOverlay > 0) outgoingLight /= cardExposure; // colours that mean something are no brighter in a brighter picture
`;
