import type { MapName } from '@lithe-sieve/core';
import * as THREE from 'three';

/** The maps that change how the card is lit, in the order of their bits. */
export const SURFACE_MAPS = [
  'normal',
  'roughness',
  'metalness',
  'specular',
  'occlusion',
  'translucency',
] as const satisfies MapName[];
type SurfaceMap = (typeof SURFACE_MAPS)[number];

const samplerOf = (map: SurfaceMap) => `card${map[0].toUpperCase()}${map.slice(1)}`;

/** Uniforms of the maps: a texture each, and which of them there are. */
export class SurfaceMaps {
  readonly uniforms: Record<string, THREE.IUniform> = {
    cardMaps: { value: 0 },
    ...Object.fromEntries(SURFACE_MAPS.map((map) => [samplerOf(map), { value: null as THREE.Texture | null }])),
  };

  set(textureOf: (map: MapName) => THREE.Texture | null): void {
    let bits = 0;
    for (const [i, map] of SURFACE_MAPS.entries()) {
      const texture = textureOf(map);
      this.uniforms[samplerOf(map)].value = texture;
      if (texture) bits |= 1 << i;
    }
    this.uniforms['cardMaps'].value = bits;
  }
}

const has = (map: SurfaceMap) => `(cardMaps & ${1 << SURFACE_MAPS.indexOf(map)}) != 0`;

export const SURFACE_DECLARED = /* glsl */ `
uniform int cardMaps;
${SURFACE_MAPS.map((map) => `uniform sampler2D ${samplerOf(map)};`).join('\n')}

/* The axes of the texture on the surface, from how both change on the screen; y is up in the picture. */
mat3 cardFrame(vec3 at, vec3 normal, vec2 uv) {
  vec3 q0 = dFdx(at), q1 = dFdy(at);
  vec2 s0 = dFdx(uv), s1 = dFdy(uv);
  vec3 p1 = cross(q1, normal), p0 = cross(normal, q0);
  vec3 t = p1 * s0.x + p0 * s1.x;
  vec3 b = -(p1 * s0.y + p0 * s1.y);
  float most = max(dot(t, t), dot(b, b));
  float scale = most == 0.0 ? 0.0 : inversesqrt(most);
  return mat3(t * scale, b * scale, normal);
}
`;

/**
 * Places of three's standard shader and what follows on them: glTF 2.0 Appendix B with roughness, metalness, normal and
 * occlusion a texture each; specular as the reflectance head on, 8 % at white; translucency as the share of diffuse light
 * that goes on through the sheet instead of back (KHR_materials_diffuse_transmission).
 */
export const SURFACE_PLACES: readonly (readonly [place: string, text: string])[] = [
  [
    '#include <roughnessmap_fragment>',
    `if (${has('roughness')}) roughnessFactor = texture2D(cardRoughness, vMapUv).r;`,
  ],
  [
    '#include <metalnessmap_fragment>',
    `if (${has('metalness')}) metalnessFactor = texture2D(cardMetalness, vMapUv).r;`,
  ],
  [
    '#include <normal_fragment_maps>',
    `if (${has('normal')}) {
      mat3 frame = cardFrame(-vViewPosition, normal, vMapUv);
      #ifdef DOUBLE_SIDED
        frame[0] *= faceDirection;
        frame[1] *= faceDirection;
      #endif
      normal = normalize(frame * (texture2D(cardNormal, vMapUv).xyz * 2.0 - 1.0));
    }`,
  ],
  [
    '#include <lights_physical_fragment>',
    `if (${has('specular')}) {
      material.specularColor = vec3(0.08 * texture2D(cardSpecular, vMapUv).r);
      material.specularColorBlended = mix(material.specularColor, diffuseColor.rgb, metalnessFactor);
    }`,
  ],
  [
    '#include <aomap_fragment>',
    `if (${has('occlusion')}) {
      float open = texture2D(cardOcclusion, vMapUv).r;
      reflectedLight.indirectDiffuse *= open;
      reflectedLight.indirectSpecular *= open;
    }
    if (${has('translucency')}) {
      float through = texture2D(cardTranslucency, vMapUv).r;
      vec3 passed = vec3(0.0);
      #if NUM_DIR_LIGHTS > 0
        passed += directionalLights[0].color * max(0.0, -dot(normal, directionalLights[0].direction));
      #endif
      #if NUM_HEMI_LIGHTS > 0
        reflectedLight.indirectDiffuse = mix(reflectedLight.indirectDiffuse, getHemisphereLightIrradiance(hemisphereLights[0], -normal) * BRDF_Lambert(material.diffuseContribution), through);
      #endif
      reflectedLight.directDiffuse = mix(reflectedLight.directDiffuse, passed * BRDF_Lambert(material.diffuseContribution), through);
    }`,
  ],
];
