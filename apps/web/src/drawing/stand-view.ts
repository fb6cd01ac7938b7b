import {
  CARD_ROUGHNESS,
  CLIP_DRAWINGS,
  cardSurface,
  type Box,
  type CardSurface,
  type ClipDrawing,
  type MapName,
} from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Viewport } from './poses';
import { makeStandCamera, placeStandCamera, seesFront } from './stand-pose';
import { BACKDROPS } from './backdrops';
import { bayerThresholds, CLIP_SHADER } from './clip-shader';
import type { Backdrop, Scenery } from './messages';
import { seenOnStand } from './stand-part';
import { SURFACE_DECLARED, SURFACE_PLACES, SurfaceMaps } from './surface-shader';

const MODES = { opaque: 0, mask: 1, blend: 2 } as const;
/** Draws the lit view: the card on the ground, something behind it, one sun with a shadow. */
export class StandView {
  private readonly scene = new THREE.Scene();
  private readonly camera = makeStandCamera();
  private readonly card = new THREE.Mesh<THREE.BufferGeometry, THREE.MeshStandardMaterial>();
  private on = cardSurface({ cardWidth: 1 }, { width: 1, height: 1 });
  private backdrop: Backdrop | null = null;
  /** What the shadow on the ground depends on, textures apart. */
  private shadowOf = '';
  private readonly shared = {
    cardMask: { value: null as THREE.Texture | null },
    cardMode: { value: 1 },
    cardCutoff: { value: 0.5 },
    cardOpacity: { value: 1 },
    cardDrawn: { value: 0 },
    cardSamples: { value: 4 },
    cardOneSided: { value: 0 },
    cardDither: { value: bayerThresholds() },
  };
  private readonly maps = new SurfaceMaps();
  /** In the place of a picture that is not there: without one three would compile another shader. */
  private readonly nothing = new THREE.DataTexture(new Uint8Array(4), 1, 1);
  private readonly surface = this.makeSurface();
  private readonly ground = new THREE.Mesh(
    new THREE.CircleGeometry(60, 48),
    new THREE.MeshStandardMaterial({ roughness: 1 }),
  );
  private readonly sky = new THREE.Mesh(
    new THREE.SphereGeometry(200, 24, 24),
    new THREE.MeshBasicMaterial({ side: THREE.BackSide, vertexColors: true, fog: false }),
  );
  private readonly fill = new THREE.HemisphereLight(0xe8eef2, 0x9a8f7c, 1);
  /** Stands beyond the card from wherever it is looked at. */
  private readonly behind = new THREE.Group();
  private readonly sun = new THREE.DirectionalLight(0xfff1dc, 2.6);

  constructor() {
    this.setSurface(this.on);
    this.card.material = this.surface;
    this.card.castShadow = true;
    this.card.customDepthMaterial = this.makeShadowCaster();
    this.ground.rotation.x = -Math.PI / 2;
    this.ground.receiveShadow = true;
    const ball = new THREE.Mesh(
      new THREE.SphereGeometry(0.26, 40, 28),
      new THREE.MeshStandardMaterial({ color: 0xa8432f, roughness: 0.7 }),
    );
    ball.position.set(-0.32, 0.26, -0.55);
    ball.castShadow = true;
    ball.receiveShadow = true;
    const post = new THREE.Mesh(
      new THREE.CylinderGeometry(0.045, 0.05, 1.05, 20),
      new THREE.MeshStandardMaterial({ color: 0x6f6353, roughness: 0.9 }),
    );
    post.position.set(0.34, 0.525, -0.8);
    post.castShadow = true;
    post.receiveShadow = true; // as the ball does: one shader serves both
    this.sun.position.copy(SUN_FROM);
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(1024, 1024);
    Object.assign(this.sun.shadow.camera, { left: -1.3, right: 1.3, top: 1.3, bottom: -1.3, near: 0.1, far: 8 });
    this.sun.target.position.copy(SUN_TO);
    this.sun.shadow.bias = -0.002;
    this.behind.add(ball, post);
    this.scene.add(this.sky, this.ground, this.behind, this.card, this.fill, this.sun, this.sun.target);
  }

  setTextures(
    colour: THREE.Texture | null,
    mask: THREE.Texture | null,
    textureOf: (map: MapName) => THREE.Texture | null,
  ): void {
    this.maps.set(textureOf);
    this.shared.cardMask.value = mask;
    this.surface.map = colour ?? this.nothing;
    this.card.visible = Boolean(colour && mask);
  }

  /** @returns true where the shadow must be cast again. */
  prepare({ material, drawn, stand, backdrop, views }: Scenery): boolean {
    this.setMaterial(material, drawn);
    this.setBackdrop(backdrop);
    this.behind.rotation.y = seesFront(stand) ? 0 : Math.PI;
    placeStandCamera(this.camera, stand, views.stand);
    const shadowOf = JSON.stringify([material, drawn, seesFront(stand)]);
    const changed = shadowOf !== this.shadowOf;
    this.shadowOf = shadowOf;
    return changed;
  }

  setSurface(surface: CardSurface): void {
    this.on = surface;
    const { positions, normals, uvs, indices } = surface.mesh;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    geometry.setAttribute('uv', new THREE.BufferAttribute(uvs, 2));
    geometry.setIndex(new THREE.BufferAttribute(indices, 1));
    this.card.geometry.dispose();
    this.card.geometry = geometry;
  }

  private setMaterial({ mode, cutoff, doubleSided, opacity }: Scenery['material'], { by, samples }: ClipDrawing): void {
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

  private setBackdrop(name: Backdrop): void {
    if (name === this.backdrop) return;
    this.backdrop = name;
    const { sky, ground, fill } = BACKDROPS[name];
    const top = new THREE.Color(sky[0]);
    const low = new THREE.Color(sky[1]);
    const position = this.sky.geometry.getAttribute('position');
    const colours = new Float32Array(position.count * 3);
    for (let i = 0; i < position.count; i++) {
      new THREE.Color().lerpColors(low, top, Math.min(1, Math.max(0, position.getY(i) / 90))).toArray(colours, 3 * i);
    }
    this.sky.geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3));
    this.ground.material.color.set(ground);
    this.scene.fog = new THREE.Fog(sky[1], 8, 60);
    this.fill.intensity = fill;
  }

  /** See {@link seenOnStand}. */
  seen(part: Box, scenery: Scenery): Viewport {
    return seenOnStand(part, this.on, scenery, SUN_WAY);
  }

  draw(renderer: THREE.WebGLRenderer): void {
    renderer.render(this.scene, this.camera);
  }

  /** Physically based shading by three; alpha and the clip are ours: kept where alpha · factor ≥ cutoff (§3.9.4). */
  private makeSurface(): THREE.MeshStandardMaterial {
    const material = new THREE.MeshStandardMaterial({
      map: this.nothing,
      roughness: CARD_ROUGHNESS, // where there are no maps of them
      metalness: 0,
      side: THREE.DoubleSide, // back faces: three reverses the normal before lighting, as glTF 2.0 §3.9.5 asks
    });
    material.shadowSide = THREE.DoubleSide;
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.shared, this.maps.uniforms);
      const declared = putInto(
        shader.fragmentShader,
        'void main() {',
        `${CLIP_SHADER}\n${SURFACE_DECLARED}\nuniform int cardOneSided;\nvoid main() {\nif (cardOneSided == 1 && !gl_FrontFacing) discard;`,
      );
      const clipped = putInto(
        declared,
        '#include <alphamap_fragment>',
        `#ifdef USE_MAP
            float cardAlpha = texture2D(cardMask, vMapUv).r * cardOpacity;
            float cover = cardMode == 1 ? coverOf(cardAlpha, vMapUv) : 1.0;
            if (cover == 0.0) discard;
            diffuseColor.a = cardMode == 2 ? cardAlpha : cover;
          #endif`,
      );
      shader.fragmentShader = SURFACE_PLACES.reduce(
        (text, [place, more]) => putInto(text, place, `${place}\n#ifdef USE_MAP\n${more}\n#endif`),
        clipped,
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

/** Replaces a place of three's shader text. @throws Error where another version has no such place. */
export function putInto(shader: string, place: string, text: string): string {
  if (!shader.includes(place)) throw new Error(`The shader of this version of three has no “${place}”.`);
  return shader.replace(place, text);
}

const SUN_FROM = new THREE.Vector3(-1.6, 2.4, 1.9);
const SUN_TO = new THREE.Vector3(0, 0.3, -0.3);
const SUN_WAY = SUN_TO.clone().sub(SUN_FROM);
