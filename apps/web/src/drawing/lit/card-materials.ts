import { CARD_ROUGHNESS, CLIP_DRAWINGS, type ClipDrawing } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { DrawnPiece, PieceMaterial } from '../drawn-piece';
import type { TextureFilter } from '../textures';
import type { BlendOrder } from './blend-order';
import { bayerThresholds, CLIP_SHADER } from './clip-shader';
import { OVERLAY_SHADER, OVERLAYS, type Overlay } from './overlay-shader';
import { putInto, readShadow } from './shadowed';
import {
  SKY_LIGHT,
  SURFACE_DECLARED,
  SURFACE_PLACES,
  SurfaceMaps,
  TANGENTS,
  TANGENTS_DECLARED,
} from './surface-shader';

const MODES = { opaque: 0, mask: 1, blend: 2 } as const;
/** Added to the mip level that is read: none is smaller. */
const LEVEL_0 = -16;

/** What a card is drawn with, and what cuts its shadow: one set of numbers for both. */
export class CardMaterials {
  private readonly shared = {
    cardMask: { value: null as THREE.Texture | null },
    cardBackColour: { value: null as THREE.Texture | null },
    cardHasBackColour: { value: 0 },
    cardMode: { value: 1 },
    cardCutoff: { value: 0.5 },
    cardOpacity: { value: 1 },
    cardDrawn: { value: 0 },
    cardOverlay: { value: 0 },
    cardExposure: { value: 1 },
    cardSamples: { value: 4 },
    cardOneSided: { value: 0 },
    cardDither: { value: bayerThresholds() },
    cardBias: { value: 0 },
    cardShift: { value: new THREE.Vector2() },
    cardSway: { value: STILL },
  };
  private readonly maps = new SurfaceMaps();
  readonly surface = this.makeSurface();
  readonly shadowCaster = this.makeShadowCaster();

  setMaps(renderer: THREE.WebGLRenderer, piece: DrawnPiece, filter: TextureFilter): void {
    piece.sampleTextures(renderer, 'set', filter);
    this.maps.set((map) => piece.texture(map));
    this.shared.cardMask.value = piece.clip;
    this.surface.map = piece.texture('colour') ?? NOTHING;
    this.shared.cardBackColour.value = piece.texture('backColour');
    this.shared.cardHasBackColour.value = piece.texture('backColour') ? 1 : 0;
  }

  setMaterial(
    { mode, cutoff, doubleSided, opacity, emission = 1 }: PieceMaterial,
    { by, samples }: ClipDrawing,
    order: BlendOrder,
  ): void {
    this.surface.depthWrite = mode !== 'blend' || order === 'depth';
    this.shared.cardMode.value = MODES[mode];
    this.shared.cardDrawn.value = CLIP_DRAWINGS.indexOf(by);
    this.shared.cardSamples.value = samples;
    this.shared.cardCutoff.value = cutoff;
    this.shared.cardOpacity.value = opacity;
    this.maps.setStrength(emission);
    // in the shader, since three compiles another one for another side
    this.shared.cardOneSided.value = doubleSided ? 0 : 1;
    // covered samples of one surface before what is behind come to the same as a mix by their number
    const transparent = mode === 'blend' || (mode === 'mask' && by === 'coverage');
    if (this.surface.transparent === transparent) return;
    this.surface.transparent = transparent;
    this.surface.needsUpdate = true;
  }

  /** @param exposure - That the picture is multiplied by. */
  setOverlay(overlay: Overlay, exposure: number): void {
    this.shared.cardOverlay.value = OVERLAYS.indexOf(overlay);
    this.shared.cardExposure.value = exposure;
    this.surface.wireframe = overlay === 'wireframe';
  }

  /** @param fromLevel0 - Whether every texture is read at its full size, however small it is seen. */
  setReading(fromLevel0: boolean): void {
    this.shared.cardBias.value = fromLevel0 ? LEVEL_0 : 0;
  }

  /** Where the card lies of where the camera has it: all else is drawn between pixels, too. @param x - In units of the clip space. */
  setShift(x: number, y: number): void {
    this.shared.cardShift.value.set(x, y);
  }

  /** @param seconds - Of the wind; null: it is calm. */
  setSway(seconds: number | null): void {
    this.shared.cardSway.value = seconds ?? STILL;
  }

  dispose(): void {
    this.surface.dispose();
    this.shadowCaster.dispose();
  }

  /** Physically based shading by three; alpha and the clip are ours: kept where alpha · factor ≥ cutoff (§3.9.4). */
  private makeSurface(): THREE.MeshStandardMaterial {
    const material = new THREE.MeshStandardMaterial({
      map: NOTHING,
      roughness: CARD_ROUGHNESS, // where there are no maps of them
      metalness: 0,
      vertexColors: true, // the tint of a back
      side: THREE.DoubleSide, // back faces: three reverses the normal before lighting, as glTF 2.0 §3.9.5 asks
    });
    material.shadowSide = THREE.DoubleSide;
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.shared, this.maps.uniforms);
      readShadow(shader);
      shader.vertexShader = [
        [
          'void main() {',
          `attribute float cardBack;\nvarying float vCardBack;\nuniform vec2 cardShift;\n${SWAY_DECLARED}\n${TANGENTS_DECLARED}\nvoid main() {\n vCardBack = cardBack;`,
        ],
        [NORMAL_PLACE, `${NORMAL_PLACE}\n${TANGENTS}`],
        [MOVED_PLACE, `${MOVED_PLACE}\n${SWAYED}`],
        ['#include <project_vertex>', '#include <project_vertex>\ngl_Position.xy += cardShift * gl_Position.w;'],
      ].reduce((text, [place, more]) => putInto(text, place, more), shader.vertexShader);
      const places: (readonly [place: string, more: string])[] = [
        [
          'void main() {',
          `${CLIP_SHADER}\n${SURFACE_DECLARED}\n${DECLARED}\nvoid main() {\nif (cardOneSided == 1 && !gl_FrontFacing) discard;`,
        ],
        ['#include <map_fragment>', `#include <map_fragment>\n#ifdef USE_MAP\n${COLOURED}\n#endif`],
        ['#include <alphamap_fragment>', `#ifdef USE_MAP\n${CLIPPED}\n#endif`],
        [SKY_PLACE, `${SKY_PLACE}\n${SKY_LIGHT}`],
        [LIT_PLACE, `#ifdef USE_MAP\n${OVERLAY_SHADER}\n#endif\n${LIT_PLACE}`],
        ...SURFACE_PLACES.map(([place, more]) => [place, `${place}\n#ifdef USE_MAP\n${more}\n#endif`] as const),
      ];
      shader.fragmentShader = places.reduce((text, [place, more]) => putInto(text, place, more), shader.fragmentShader);
    };
    return material;
  }

  /** The shadow is cut by the mask as the card is, to whole samples; with blend, which casts no partial shadow, at one half. */
  private makeShadowCaster(): THREE.MeshDepthMaterial {
    const material = new THREE.MeshDepthMaterial({ depthPacking: THREE.RGBADepthPacking });
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.shared);
      shader.vertexShader = putInto(
        shader.vertexShader,
        'void main() {',
        `varying vec2 vCardUv;\n${SWAY_DECLARED}\nvoid main() {\n vCardUv = uv;`,
      );
      shader.vertexShader = putInto(shader.vertexShader, MOVED_PLACE, `${MOVED_PLACE}\n${SWAYED}`);
      shader.fragmentShader = putInto(
        shader.fragmentShader,
        'void main() {',
        `${CLIP_SHADER}\nvarying vec2 vCardUv;\nvoid main() {
          float cardAlpha = texture2D(cardMask, vCardUv, cardBias).r * cardOpacity;
          bool wholly = cardBias < 0.0 || cardDrawn == 0 || cardDrawn == 3;
          if (cardMode == 1 && (wholly ? cardAlpha < cardCutoff : coverOf(cardAlpha, vCardUv) == 0.0)) discard;
          if (cardMode == 2 && cardAlpha < 0.5) discard;`,
      );
    };
    return material;
  }
}

const DECLARED = `uniform int cardOneSided, cardHasBackColour, cardOverlay;
uniform float cardExposure;
uniform sampler2D cardBackColour;
varying float vCardBack;`;

const COLOURED = `if (cardBias < 0.0) diffuseColor.rgb = diffuse * texture2D(map, vMapUv, cardBias).rgb;
if (cardHasBackColour == 1 && vCardBack > 0.5) diffuseColor.rgb = diffuse * texture2D(cardBackColour, vMapUv, cardBias).rgb;`;

const CLIPPED = `float cardAlpha = texture2D(cardMask, vMapUv, cardBias).r * cardOpacity;
float cover = cardMode != 1 ? 1.0 : cardBias < 0.0 ? float(cardAlpha >= cardCutoff) : coverOf(cardAlpha, vMapUv);
if (cover == 0.0 && cardOverlay != 1) discard;
diffuseColor.a = cardMode == 2 ? cardAlpha : cover;`;

const STILL = -1;
const NORMAL_PLACE = '#include <defaultnormal_vertex>';
const MOVED_PLACE = '#include <begin_vertex>';
const SWAY_DECLARED = 'attribute float cardTip;\nuniform float cardSway;';
/** The root stands still, the tip moves most: two slow waves and a quick one, each copy at its own time. */
const SWAYED = `if (cardSway >= 0.0) {
  float phase = 0.0;
  #ifdef USE_INSTANCING
    phase = dot(instanceMatrix[3].xz, vec2(1.7, 2.3));
  #endif
  float bend = 0.06 * cardTip * cardTip;
  transformed.z += bend * (sin(2.1 * cardSway + phase) + 0.4 * sin(5.3 * cardSway + 2.0 * phase + 4.0 * position.x));
  transformed.x += 0.5 * bend * sin(1.7 * cardSway + phase + 1.0);
}`;

const LIT_PLACE = '#include <opaque_fragment>';
const SKY_PLACE = '#include <lights_fragment_maps>';

/** In the place of a picture until there is one: without it three would compile another shader. */
const NOTHING = new THREE.DataTexture(new Uint8Array(4), 1, 1);
