import * as THREE from 'three';

/** Whether only the light that does not arrive is drawn, as less than none: see {@link LightSample}. One for all surfaces. */
export const BLOCKED_ONLY = { value: 0 };

/** Looks at a shadow: from which of five places on, and at how many. One in each of many pictures is as good as all in one. */
export const SHADOW_TAPS = { value: new THREE.Vector2(0, 3) };

/** Radians by which those places are turned, in each of many pictures otherwise: else a pattern would stay in the sum. */
export const SHADOW_TURN = { value: 0 };

/** What of the light one of many pictures has, which are summed. */
export interface LightSample {
  /** The sun's, from a place of its disc, with all that comes from around; or what is missing of one direction of the sky. */
  of: 'sun' | 'sky';
  /** From 0 to 1, evenly spread. */
  at: readonly [number, number];
}

const LIGHTS = '#include <lights_fragment_begin>';
const SHADOW =
  'directLight.color *= ( directLight.visible && receiveShadow ) ? getShadow( directionalShadowMap[ i ], directionalLightShadow.shadowMapSize, directionalLightShadow.shadowIntensity,';
const SHADOW_END = 'vDirectionalShadowCoord[ i ] ) : 1.0;';
const READS = '#include <shadowmap_pars_fragment>';
/** As three's own with soft shadows, at as many places as are asked for. */
const SOFT_SHADOW = /* glsl */ `
uniform ivec2 shadowTaps;
uniform float shadowTurn;
#if defined(USE_SHADOWMAP) && NUM_DIR_LIGHT_SHADOWS > 0
float softShadow(sampler2DShadow map, vec2 size, float bias, float radius, vec4 at) {
  at.xyz /= at.w;
  at.z += bias;
  if (any(lessThan(at.xyz, vec3(0.0))) || any(greaterThan(at.xyz, vec3(1.0)))) return 1.0;
  float turn = interleavedGradientNoise(gl_FragCoord.xy) * PI2 + shadowTurn;
  float sum = 0.0;
  for (int k = 0; k < shadowTaps.y; k++) {
    int tap = (shadowTaps.x + 2 * k) % 5;
    sum += texture(map, vec3(at.xy + vogelDiskSample(tap, 5, turn) * radius / size, at.z));
  }
  return sum / float(shadowTaps.y);
}
#endif
`;
const MIRRORED = '#include <lights_fragment_end>';
const OFFSET = 'shadowWorldNormal * directionalLightShadows[ i ].shadowNormalBias';

/**
 * How each lit surface reads its shadow: `arrives` is the share of the one sun's light that arrives. The place it is
 * looked up at lies off the surface on the side of the sun, so that what is lit from behind is not in its own shadow.
 */
export function readShadow(shader: THREE.WebGLProgramParametersWithUniforms): void {
  shader.uniforms['blockedOnly'] = BLOCKED_ONLY;
  shader.uniforms['shadowTaps'] = SHADOW_TAPS;
  shader.uniforms['shadowTurn'] = SHADOW_TURN;
  const lights = putInto(
    putInto(
      THREE.ShaderChunk.lights_fragment_begin,
      SHADOW,
      'arrives = ( directLight.visible && receiveShadow ) ? softShadow( directionalShadowMap[ i ], directionalLightShadow.shadowMapSize,',
    ),
    SHADOW_END,
    `${SHADOW_END}\nif (blockedOnly == 1) arrives -= 1.0;\ndirectLight.color *= arrives;`,
  );
  shader.fragmentShader = [
    ['void main() {', 'uniform int blockedOnly;\nvoid main() {\nfloat arrives = 1.0;'],
    [READS, `${READS}\n${SOFT_SHADOW}`],
    [LIGHTS, lights],
    [MIRRORED, `${MIRRORED}\nif (blockedOnly == 1) reflectedLight.directSpecular = vec3(0.0);`],
  ].reduce((text, [place, more]) => putInto(text, place, more), shader.fragmentShader);
  shader.vertexShader = putInto(
    shader.vertexShader,
    '#include <shadowmap_vertex>',
    putInto(
      THREE.ShaderChunk.shadowmap_vertex,
      OFFSET,
      `-sign(dot(vec3(directionalShadowMatrix[ i ][0].z, directionalShadowMatrix[ i ][1].z, directionalShadowMatrix[ i ][2].z), shadowWorldNormal)) * ${OFFSET}`,
    ),
  );
}

/** A plain surface that light falls on and shadows. */
export function plainSurface(of: THREE.MeshStandardMaterialParameters): THREE.MeshStandardMaterial {
  const material = new THREE.MeshStandardMaterial(of);
  material.onBeforeCompile = readShadow;
  return material;
}

/** One that mirrors nothing, which takes half as long: boards, posts, ground. */
export function dullSurface(of: THREE.MeshLambertMaterialParameters): THREE.MeshLambertMaterial {
  const material = new THREE.MeshLambertMaterial(of);
  material.onBeforeCompile = readShadow;
  return material;
}

/** Replaces a place of three's shader text. @throws Error where another version has no such place. */
export function putInto(shader: string, place: string, text: string): string {
  if (!shader.includes(place)) throw new Error(`The shader of this version of three has no “${place}”.`);
  return shader.replace(place, () => text);
}
