import { CARD_ROUGHNESS, PLAIN_GREY, type ClipDrawing, type StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';
import { cameraKind, type CameraLook } from '../cameras';
import type { DrawnPiece } from '../drawn-piece';
import type { Size, Viewport } from '../poses';
import type { Part, Summed, ViewPainter, ViewPlaced } from '../view-painter';
import { CardMaterials } from './card-materials';
import { ENVIRONMENT_LIGHTS, ENVIRONMENTS, type EnvironmentLook, type EnvironmentName } from './environments';
import type { Environment } from './environments/environment';
import { openGround } from './environments/open-ground';
import { shadowWayOf } from './environments/things';
import { underSky } from './environments/under-sky';
import { Exposure } from './exposure';
import { seenLit } from './lit-part';
import type { Overlay } from './overlay-shader';
import { picturesOf, samplesToSee, type OneOfMany } from './samples';
import { plainSurface } from './shadowed';

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
  /** As an eye would see level 0, instead of as a target draws it: once it has come to rest. */
  asSeen?: boolean | undefined;
  /** How many pictures are summed up while nothing changes; left out: none. */
  atRest?: number | undefined;
}

/** A new kind of environment is its file and a line here. */
function makeEnvironment(look: EnvironmentLook): Environment {
  return look.kind === 'under a sky' ? underSky(look) : openGround(look);
}

export class LitPainter implements ViewPainter<LitView> {
  private readonly scene = new THREE.Scene();
  private readonly card = new THREE.Mesh<THREE.BufferGeometry, THREE.MeshStandardMaterial>();
  private plainShown: readonly THREE.BufferGeometry[] = [];
  /** What stands beside the piece. */
  private readonly plain = new THREE.Group();
  private readonly plainSurface = plainSurface({
    color: new THREE.Color(PLAIN_GREY, PLAIN_GREY, PLAIN_GREY),
    roughness: CARD_ROUGHNESS,
    side: THREE.DoubleSide,
  });

  private shown: { name: EnvironmentName; environment: Environment; lit: string } | null = null;
  /** What the shadow depends on. */
  private shadowOf = '';
  private readonly materials = new CardMaterials();
  private readonly exposure = new Exposure();
  /** Those that are still to be summed up, and how many samples of all are in. */
  private refining: { pictures: Generator<OneOfMany>; samples: number } | null = null;

  constructor() {
    this.card.material = this.materials.surface;
    this.card.castShadow = true;
    this.card.customDepthMaterial = this.materials.shadowCaster;
    this.scene.add(this.card, this.plain);
  }

  draw(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece): void {
    this.refining = null;
    const camera = this.setUp(renderer, view, piece);
    const light = lightOf(view);
    const seesFront = cameraKind(view.camera).seesFront(view.camera);
    const { environment, drawn, asSeen } = view;
    const facts = [piece.key, piece.shape, piece.material, drawn, seesFront, environment, light, asSeen];
    const shadowOf = JSON.stringify(facts);
    renderer.shadowMap.needsUpdate = shadowOf !== this.shadowOf;
    this.shadowOf = shadowOf;
    this.exposure.once(renderer, light, () => renderer.render(this.scene, camera));
  }

  refine(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece): Summed | null {
    const of = samplesOf(view, piece, renderer.getPixelRatio());
    if (of === 0 || (this.refining && this.refining.samples >= of)) return null;
    const { pictures } = (this.refining ??= { pictures: picturesOf(of), samples: 0 });
    const camera = this.setUp(renderer, view, piece);
    const { environment } = this.shown!;
    this.shadowOf = '';
    for (let one = pictures.next(); !one.done; one = pictures.next()) {
      const { light, sameShadow, pixel, done } = one.value;
      const { x, y } = shiftBy(camera, renderer, pixel);
      // what is cut by the cutoff stays as a target has it
      this.materials.setShift(view.asSeen ? 0 : x, view.asSeen ? 0 : y);
      environment.sample(light);
      renderer.shadowMap.needsUpdate = !sameShadow && (light.of === 'sky' || lightOf(view).strength > 0);
      const isIn = this.exposure.add(renderer, () => renderer.render(this.scene, camera));
      environment.sample(null);
      this.materials.setShift(0, 0);
      if (!isIn) return this.leave(of);
      if (done === null) continue;
      this.exposure.showSum(renderer, lightOf(view), done);
      this.refining.samples = done;
      break;
    }
    const { samples } = this.refining;
    if (samples >= of) this.exposure.freeSums();
    return { samples, of };
  }

  seen(part: Part, view: LitView, piece: DrawnPiece): Viewport {
    return seenLit(part, piece.surface, view.camera, view.rect, shadowWayOf(lightOf(view)));
  }

  dispose(): void {
    this.shown?.environment.dispose();
    this.materials.dispose();
    this.plainSurface.dispose();
    this.exposure.dispose();
  }

  private leave(of: number): null {
    this.refining = { pictures: picturesOf(0), samples: of };
    return null;
  }

  private setUp(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece): THREE.PerspectiveCamera {
    const { camera: look, rect } = view;
    const kind = cameraKind(look);
    const camera = kind.make();
    kind.place(camera, look, rect);
    const light = lightOf(view);
    this.environmentOf(view.environment, light).turn(kind.seesFront(look));
    this.card.geometry = piece.geometry;
    // nothing shadows a flat card that faces the sun, and looking that up takes a sixth of a frame
    const sun = shadowWayOf(light);
    this.card.receiveShadow = this.refining !== null || piece.isFolded || sun.z > 0;
    this.setPlain(piece.plain);
    this.materials.setMaps(renderer, piece);
    this.materials.setMaterial(piece.material, view.drawn);
    this.materials.setOverlay(view.overlay ?? 'none', 2 ** light.exposure);
    this.materials.setReading(view.asSeen ?? false);
    return camera;
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
}

const lightOf = ({ environment, light }: LitView): StandLight => light ?? ENVIRONMENT_LIGHTS[environment];

function samplesOf({ asSeen, atRest, camera, rect }: LitView, piece: DrawnPiece, pixelRatio: number): number {
  if (!asSeen) return atRest ?? 0;
  const { width, height } = (piece.clip?.image ?? NO_SIZE) as Size;
  return samplesToSee((cameraKind(camera).pixelAt(camera, rect) / pixelRatio) * Math.max(width, height));
}
const NO_SIZE: Size = { width: 1, height: 1 };

/** Moves what the camera sees by a part of a pixel. @returns by how much the other way, in units of the clip space. */
function shiftBy(camera: THREE.PerspectiveCamera, renderer: THREE.WebGLRenderer, pixel: readonly [number, number]) {
  const { z: width, w: height } = renderer.getCurrentViewport(new THREE.Vector4());
  const [dx, dy] = pixel.map((v) => v - 0.5);
  camera.setViewOffset(width, height, dx, dy, width, height);
  return { x: (2 * dx) / width, y: (-2 * dy) / height };
}
