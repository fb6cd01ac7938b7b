import { MATERIAL_SLOTS, SLOT_NAMES, type MapName, type SlotName } from '@lithe-sieve/core';
import * as THREE from 'three';

const samplerOf = (slot: SlotName) => `card${slot[0].toUpperCase()}${slot.slice(1)}`;

/** Uniforms of the slots: a texture each, and which of them there are. */
export class SurfaceMaps {
  readonly uniforms: Record<string, THREE.IUniform> = {
    cardMaps: { value: 0 },
    cardEmissionStrength: { value: 1 },
    ...Object.fromEntries(SLOT_NAMES.map((slot) => [samplerOf(slot), { value: null as THREE.Texture | null }])),
  };

  setStrength(emission: number): void {
    this.uniforms['cardEmissionStrength'].value = emission;
  }

  set(textureOf: (map: MapName) => THREE.Texture | null): void {
    let bits = 0;
    for (const [i, slot] of SLOT_NAMES.entries()) {
      const texture = textureOf(MATERIAL_SLOTS[slot].map);
      this.uniforms[samplerOf(slot)].value = texture;
      if (texture) bits |= 1 << i;
    }
    this.uniforms['cardMaps'].value = bits;
  }
}

/** In the shader of vertices: which way the picture's right and up point. */
export const TANGENTS_DECLARED = 'attribute vec4 cardTangent;\nvarying vec3 vCardRight, vCardUp;';
/** Where `transformedNormal` is that of the vertex as it is seen. */
export const TANGENTS = /* glsl */ `
vec3 cardRight = cardTangent.xyz;
#ifdef USE_INSTANCING
  cardRight = mat3(instanceMatrix) * cardRight;
#endif
vCardRight = (modelViewMatrix * vec4(cardRight, 0.0)).xyz;
vCardUp = cross(transformedNormal, vCardRight) * cardTangent.w;`;

export const SURFACE_DECLARED = /* glsl */ `
varying vec3 vCardRight, vCardUp;
uniform int cardMaps;
uniform float cardEmissionStrength;
${SLOT_NAMES.map((slot) => `uniform sampler2D ${samplerOf(slot)};`).join('\n')}

/* The axes of the texture on the surface, y up in the picture: of the vertices, else from how both change on the screen. */
mat3 cardFrame(vec3 at, vec3 normal, vec2 uv) {
  if (min(dot(vCardRight, vCardRight), dot(vCardUp, vCardUp)) > 0.01) return mat3(normalize(vCardRight), normalize(vCardUp), normal);
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

/** What a slot does to the light: GLSL that follows a place of three's standard shader where the piece has its map. */
interface SurfaceTerm {
  place: string;
  glsl: string;
}

/**
 * glTF 2.0 Appendix B with roughness, metalness, normal and occlusion a texture each; specular as the reflectance head on,
 * 8 % at white; translucency as the share of diffuse light that goes on through the sheet instead of back
 * (KHR_materials_diffuse_transmission).
 */
const TERMS: Record<SlotName, SurfaceTerm> = {
  roughness: {
    place: '#include <roughnessmap_fragment>',
    glsl: 'roughnessFactor = texture2D(cardRoughness, vMapUv, cardBias).r;',
  },
  metalness: {
    place: '#include <metalnessmap_fragment>',
    glsl: 'metalnessFactor = texture2D(cardMetalness, vMapUv, cardBias).r;',
  },
  normal: {
    place: '#include <normal_fragment_maps>',
    glsl: `mat3 frame = cardFrame(-vViewPosition, normal, vMapUv);
      #ifdef DOUBLE_SIDED
        frame[0] *= faceDirection;
        frame[1] *= faceDirection;
      #endif
      normal = normalize(frame * (texture2D(cardNormal, vMapUv, cardBias).xyz * 2.0 - 1.0));`,
  },
  specular: {
    place: '#include <lights_physical_fragment>',
    glsl: `material.specularColor = vec3(0.08 * texture2D(cardSpecular, vMapUv, cardBias).r);
      material.specularColorBlended = mix(material.specularColor, diffuseColor.rgb, metalnessFactor);`,
  },
  occlusion: {
    place: '#include <aomap_fragment>',
    glsl: `float open = texture2D(cardOcclusion, vMapUv, cardBias).r;
      reflectedLight.indirectDiffuse *= open;
      reflectedLight.indirectSpecular *= open;`,
  },
  translucency: {
    place: '#include <aomap_fragment>',
    glsl: `float through = texture2D(cardTranslucency, vMapUv, cardBias).r;
      vec3 passed = vec3(0.0);
      #if NUM_DIR_LIGHTS > 0
        for (int i = 0; i < NUM_DIR_LIGHTS; i++)
          passed += directionalLights[i].color * arrives * max(0.0, -dot(normal, directionalLights[i].direction));
      #endif
      #if NUM_HEMI_LIGHTS > 0
        vec3 around = vec3(0.0);
        for (int i = 0; i < NUM_HEMI_LIGHTS; i++) around += getHemisphereLightIrradiance(hemisphereLights[i], -normal);
        reflectedLight.indirectDiffuse = mix(reflectedLight.indirectDiffuse, around * BRDF_Lambert(ownThrough), through);
      #elif defined(USE_LIGHT_PROBES)
        reflectedLight.indirectDiffuse = mix(reflectedLight.indirectDiffuse, getLightProbeIrradiance(lightProbe, -normal) * BRDF_Lambert(ownThrough), through);
      #endif
      reflectedLight.directDiffuse = mix(reflectedLight.directDiffuse, passed * BRDF_Lambert(ownThrough), through);`,
  },
  // read where it is used, before the light is shared out
  throughColour: {
    place: '#include <lights_physical_fragment>',
    glsl: 'ownThrough = texture2D(cardThroughColour, vMapUv, cardBias).rgb * (1.0 - metalnessFactor);',
  },
  // once, and not again in pictures of what is blocked
  emission: {
    place: '#include <emissivemap_fragment>',
    glsl: 'if (blockedOnly == 0) totalEmissiveRadiance += cardEmissionStrength * texture2D(cardEmission, vMapUv, cardBias).rgb;',
  },
};

/**
 * A sky by its harmonics: diffuse light leaves room for what is mirrored, and what is mirrored is blurred by the roughness,
 * each band by a factor of its own (R. Ramamoorthi, P. Hanrahan, "Frequency Space Environment Map Rendering", 2002; a Phong
 * lobe of a quarter of the exponent that the microfacets have).
 */
export const SKY_LIGHT = /* glsl */ `
#ifdef USE_LIGHT_PROBES
  vec3 fromSky = getLightProbeIrradiance(lightProbe, geometryNormal);
  irradiance -= fromSky;
  iblIrradiance += fromSky;
  vec3 r = inverseTransformDirection(reflect(-geometryViewDir, geometryNormal), viewMatrix);
  float lobe = pow(material.roughness, 4.0);
  float exponent = max(0.5, (2.0 / max(lobe, 1e-4) - 2.0) / 4.0);
  float one = exp(-0.5 / exponent), two = exp(-2.0 / exponent);
  radiance += max(vec3(0.0), 0.282095 * lightProbe[0]
    + one * 0.488603 * (r.y * lightProbe[1] + r.z * lightProbe[2] + r.x * lightProbe[3])
    + two * (1.092548 * (r.x * r.y * lightProbe[4] + r.y * r.z * lightProbe[5] + r.x * r.z * lightProbe[7])
      + 0.315392 * (3.0 * r.z * r.z - 1.0) * lightProbe[6] + 0.546274 * (r.x * r.x - r.y * r.y) * lightProbe[8]));
#endif
`;

/** What stands before the terms of a place, whichever maps there are. */
const BEFORE: Record<string, string[] | undefined> = {
  '#include <lights_physical_fragment>': ['vec3 ownThrough = material.diffuseContribution;'],
};

/** Places of three's standard shader and what follows on them; terms of one place in the order of the slots. */
export const SURFACE_PLACES: readonly (readonly [place: string, text: string])[] = [
  ...new Set(SLOT_NAMES.map((slot) => TERMS[slot].place)),
].map((place) => {
  const terms = SLOT_NAMES.filter((slot) => TERMS[slot].place === place);
  const text = terms.map((slot) => `if ((cardMaps & ${1 << SLOT_NAMES.indexOf(slot)}) != 0) {\n${TERMS[slot].glsl}\n}`);
  return [place, [...(BEFORE[place] ?? []), ...text].join('\n')];
});
