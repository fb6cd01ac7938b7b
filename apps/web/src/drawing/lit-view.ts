import { CARD_ROUGHNESS, CLIP_DRAWINGS, PLAIN_GREY, type ClipDrawing, type StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';
import { cameraKind, type CameraLook } from './cameras';
import { bayerThresholds, CLIP_SHADER } from './clip-shader';
import type { DrawnPiece, PieceMaterial } from './drawn-piece';
import { ENVIRONMENT_LIGHTS, ENVIRONMENTS, type EnvironmentLook, type EnvironmentName } from './environments';
import type { Environment } from './environments/environment';
import { openGround } from './environments/open-ground';
import { shadowWayOf } from './environments/things';
import { underSky } from './environments/under-sky';
import { seenLit } from './lit-part';
import type { Viewport } from './poses';
import { OVERLAY_SHADER, OVERLAYS, type Overlay } from './overlay-shader';
import { SKY_LIGHT, SURFACE_DECLARED, SURFACE_PLACES, SurfaceMaps } from './surface-shader';
import type { Part, ViewPainter, ViewPlaced } from './view-painter';

/** The card lit in an environment. */
export interface LitView extends ViewPlaced {
  kind: 'lit';
  camera: CameraLook;
  environment: EnvironmentName;
  /** Left out: as the environment is lit at first. */
  light?: StandLight | undefined;
  /** How it is decided which pixels show, in mode mask. */
  drawn: ClipDrawing;
  /** Left out: none. */
  overlay?: Overlay | undefined;
}

/** A new kind of environment is its file and a line here. */
function makeEnvironment(look: EnvironmentLook): Environment {
  return look.kind === 'under a sky' ? underSky(look) : openGround(look);
}

const TONES: Record<StandLight['tone'], THREE.ToneMapping> = {
  neutral: THREE.NeutralToneMapping,
  none: THREE.LinearToneMapping,
};

const MODES = { opaque: 0, mask: 1, blend: 2 } as const;

export class LitPainter implements ViewPainter<LitView> {
  private readonly scene = new THREE.Scene();
  private readonly card = new THREE.Mesh<THREE.BufferGeometry, THREE.MeshStandardMaterial>();
  private plainShown: readonly THREE.BufferGeometry[] = [];
  /** What stands beside the piece. */
  private readonly plain = new THREE.Group();
  private readonly plainSurface = new THREE.MeshStandardMaterial({
    color: new THREE.Color(PLAIN_GREY, PLAIN_GREY, PLAIN_GREY),
    roughness: CARD_ROUGHNESS,
    side: THREE.DoubleSide,
  });

  private shown: { name: EnvironmentName; environment: Environment; lit: string } | null = null;
  /** What the shadow depends on. */
  private shadowOf = '';
  private readonly shared = {
    cardMask: { value: null as THREE.Texture | null },
    cardBackColour: { value: null as THREE.Texture | null },
    cardHasBackColour: { value: 0 },
    cardMode: { value: 1 },
    cardCutoff: { value: 0.5 },
    cardOpacity: { value: 1 },
    cardDrawn: { value: 0 },
    cardOverlay: { value: 0 },
    cardSamples: { value: 4 },
    cardOneSided: { value: 0 },
    cardDither: { value: bayerThresholds() },
  };
  private readonly maps = new SurfaceMaps();
  private readonly surface = this.makeSurface();
  private readonly shadowCaster = this.makeShadowCaster();

  constructor() {
    this.card.material = this.surface;
    this.card.castShadow = true;
    this.card.customDepthMaterial = this.shadowCaster;
    this.scene.add(this.card, this.plain);
  }

  draw(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece): void {
    const { material, geometry } = piece;
    const { camera: look, drawn, rect } = view;
    const kind = cameraKind(look);
    const camera = kind.make();
    kind.place(camera, look, rect);
    const seesFront = kind.seesFront(look);
    const light = lightOf(view);
    const environment = this.environmentOf(view.environment, light);
    environment.turn(seesFront);
    this.card.geometry = geometry;
    this.setPlain(piece.plain);
    piece.wrapTextures(renderer, 'set');
    this.maps.set((map) => piece.texture(map));
    this.shared.cardMask.value = piece.clip;
    this.surface.map = piece.texture('colour') ?? NOTHING;
    this.shared.cardBackColour.value = piece.texture('backColour');
    this.shared.cardHasBackColour.value = piece.texture('backColour') ? 1 : 0;
    this.setMaterial(material, drawn);
    this.shared.cardOverlay.value = OVERLAYS.indexOf(view.overlay ?? 'none');
    this.surface.wireframe = view.overlay === 'wireframe';
    const shadowOf = JSON.stringify([piece.key, piece.shape, material, drawn, seesFront, view.environment, light]);
    renderer.shadowMap.needsUpdate = shadowOf !== this.shadowOf;
    this.shadowOf = shadowOf;
    renderer.toneMapping = TONES[light.tone];
    renderer.toneMappingExposure = 2 ** light.exposure;
    renderer.render(this.scene, camera);
    renderer.toneMapping = THREE.NoToneMapping; // flat views show values as they are
  }

  seen(part: Part, view: LitView, piece: DrawnPiece): Viewport {
    return seenLit(part, piece.surface, view.camera, view.rect, shadowWayOf(lightOf(view)));
  }

  dispose(): void {
    this.shown?.environment.dispose();
    this.surface.dispose();
    this.shadowCaster.dispose();
    this.plainSurface.dispose();
  }

  private setPlain(geometries: readonly THREE.BufferGeometry[]): void {
    if (this.plainShown === geometries) return;
    this.plainShown = geometries;
    this.plain.clear();
    for (const geometry of geometries) {
      const mesh = new THREE.Mesh(geometry, this.plainSurface);
      mesh.castShadow = true;
      mesh.receiveShadow = true;
      this.plain.add(mesh);
    }
  }

  private environmentOf(name: EnvironmentName, light: StandLight): Environment {
    if (this.shown?.name !== name) {
      const before = this.shown?.environment;
      if (before) this.scene.remove(before.root);
      const environment = makeEnvironment(ENVIRONMENTS[name]);
      this.shown = { name, environment, lit: '' };
      this.scene.add(environment.root);
      this.scene.fog = environment.fog;
      before?.dispose(); // after: shaders that both have are kept
    }
    const { shown } = this;
    const lit = JSON.stringify(light);
    if (shown.lit !== lit) {
      shown.lit = lit;
      shown.environment.setLight(light);
    }
    return shown.environment;
  }

  private setMaterial({ mode, cutoff, doubleSided, opacity }: PieceMaterial, { by, samples }: ClipDrawing): void {
    this.shared.cardMode.value = MODES[mode];
    this.shared.cardDrawn.value = CLIP_DRAWINGS.indexOf(by);
    this.shared.cardSamples.value = samples;
    this.shared.cardCutoff.value = cutoff;
    this.shared.cardOpacity.value = opacity;
    // in the shader, since three compiles another one for another side
    this.shared.cardOneSided.value = doubleSided ? 0 : 1;
    // covered samples of one surface before what is behind come to the same as a mix by their number
    const transparent = mode === 'blend' || (mode === 'mask' && by === 'coverage');
    if (this.surface.transparent === transparent) return;
    this.surface.transparent = transparent;
    this.surface.needsUpdate = true;
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
      const declared = putInto(
        shader.fragmentShader,
        'void main() {',
        `${CLIP_SHADER}\n${SURFACE_DECLARED}\nuniform int cardOneSided;\nuniform sampler2D cardBackColour;\nuniform int cardHasBackColour;\nuniform int cardOverlay;\nvarying float vCardBack;\nvoid main() {\nif (cardOneSided == 1 && !gl_FrontFacing) discard;`,
      );
      const turned = putInto(
        declared,
        '#include <map_fragment>',
        `#include <map_fragment>
          #ifdef USE_MAP
            if (cardHasBackColour == 1 && vCardBack > 0.5) diffuseColor.rgb = diffuse * texture2D(cardBackColour, vMapUv).rgb;
          #endif`,
      );
      shader.vertexShader = putInto(
        shader.vertexShader,
        'void main() {',
        'attribute float cardBack;\nvarying float vCardBack;\nvoid main() {\n vCardBack = cardBack;',
      );
      const clipped = putInto(
        turned,
        '#include <alphamap_fragment>',
        `#ifdef USE_MAP
            float cardAlpha = texture2D(cardMask, vMapUv).r * cardOpacity;
            float cover = cardMode == 1 ? coverOf(cardAlpha, vMapUv) : 1.0;
            if (cover == 0.0 && cardOverlay != 1) discard;
            diffuseColor.a = cardMode == 2 ? cardAlpha : cover;
          #endif`,
      );
      const underSkies = putInto(clipped, SKY_PLACE, `${SKY_PLACE}\n${SKY_LIGHT}`);
      const overlaid = putInto(underSkies, LIT_PLACE, `#ifdef USE_MAP\n${OVERLAY_SHADER}\n#endif\n${LIT_PLACE}`);
      shader.fragmentShader = SURFACE_PLACES.reduce(
        (text, [place, more]) => putInto(text, place, `${place}\n#ifdef USE_MAP\n${more}\n#endif`),
        overlaid,
      );
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
        'varying vec2 vCardUv;\nvoid main() {\n vCardUv = uv;',
      );
      shader.fragmentShader = putInto(
        shader.fragmentShader,
        'void main() {',
        `${CLIP_SHADER}\nvarying vec2 vCardUv;\nvoid main() {
          float cardAlpha = texture2D(cardMask, vCardUv).r * cardOpacity;
          bool wholly = cardDrawn == 0 || cardDrawn == 3;
          if (cardMode == 1 && (wholly ? cardAlpha < cardCutoff : coverOf(cardAlpha, vCardUv) == 0.0)) discard;
          if (cardMode == 2 && cardAlpha < 0.5) discard;`,
      );
    };
    return material;
  }
}

const LIT_PLACE = '#include <opaque_fragment>';
const SKY_PLACE = '#include <lights_fragment_maps>';

const lightOf = ({ environment, light }: LitView): StandLight => light ?? ENVIRONMENT_LIGHTS[environment];

/** In the place of a picture until there is one: without it three would compile another shader. */
const NOTHING = new THREE.DataTexture(new Uint8Array(4), 1, 1);

/** Replaces a place of three's shader text. @throws Error where another version has no such place. */
export function putInto(shader: string, place: string, text: string): string {
  if (!shader.includes(place)) throw new Error(`The shader of this version of three has no “${place}”.`);
  return shader.replace(place, text);
}
