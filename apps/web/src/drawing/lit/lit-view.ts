import {
  BEHIND_AT_FIRST,
  CARD_ROUGHNESS,
  PLAIN_GREY,
  type Behind,
  type ClipDrawing,
  type StandLight,
} from '@lithe-sieve/core';
import * as THREE from 'three';
import { cameraKind, type CameraLook } from '../cameras';
import type { DrawnPiece } from '../drawn-piece';
import type { Size, Viewport } from '../poses';
import type { BehindPicture, FarPicture, Frame, Part, Summed, ViewPainter, ViewPlaced } from '../view-painter';
import type { TextureFilter } from '../textures';
import { FarToNear, type BlendOrder } from './blend-order';
import type { Backdrop } from './backdrop';
import { BehindCard } from './behind';
import { CardMaterials } from './card-materials';
import { ENVIRONMENT_LIGHTS, ENVIRONMENTS, type EnvironmentLook, type EnvironmentName } from './environments';
import type { Environment } from './environments/environment';
import { openGround } from './environments/open-ground';
import { shadowWayOf } from './environments/things';
import { underSky } from './environments/under-sky';
import { Exposure, type Developed } from './exposure';
import { Copies } from './copies';
import { farPicture } from './far-picture';
import { seenLit, toView } from './lit-part';
import { shiftBy } from './pixel-shift';
import type { Overlay } from './overlay-shader';
import { picturesOf, samplesToSee, type OneOfMany } from './samples';
import { plainSurface, SHADOW_TAPS, SHADOW_TURN } from './shadowed';

/** The card lit in an environment. */
export interface LitView extends ViewPlaced {
  kind: 'lit';
  camera: CameraLook;
  environment: EnvironmentName;
  /** Left out: as the environment is lit at first. */
  light?: StandLight | undefined;
  /** How it is decided which pixels show, in mode mask. */
  drawn: ClipDrawing;
  /** Left out: by depth. */
  blendOrder?: BlendOrder | undefined;
  /** How its textures are read; left out: trilinear. As seen: always so. */
  filter?: TextureFilter | undefined;
  /** Left out: none. */
  overlay?: Overlay | undefined;
  /** As an eye would see level 0, instead of as a target draws it: once it has come to rest. */
  asSeen?: boolean | undefined;
  /** What is seen behind it; left out: as at first. */
  behind?: Behind | undefined;
  /** Copies of the card that are strewn around it; left out: 1, the card alone. */
  copies?: number | undefined;
  /** Seconds of the wind that it sways in; left out: it is calm. */
  sway?: number | undefined;
  /** Where in the view its middle is shown eight times as large, CSS pixels; left out: nowhere. */
  glass?: Viewport | undefined;
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
  private readonly behind = new BehindCard();
  private backdrop: Backdrop | null = null;
  private readonly farToNear = new FarToNear();
  private readonly copies = new Copies(this.scene, this.card);
  private readonly materials = new CardMaterials();
  private readonly exposure = new Exposure();
  /** Counts pictures that are summed. */
  private pass = 0;
  /** Those that are still to be summed up, and how many samples of all are in. */
  private refining: { pictures: Generator<OneOfMany>; samples: number } | null = null;

  constructor() {
    this.card.material = this.materials.surface;
    this.card.castShadow = true;
    this.card.customDepthMaterial = this.materials.shadowCaster;
    this.scene.add(this.card, this.plain, this.behind.root);
  }

  draw(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece, frame: Frame): void {
    this.refining = null;
    const camera = this.setUp(renderer, view, piece);
    const light = lightOf(view);
    const seesFront = cameraKind(view.camera).seesFront(view.camera);
    const { environment, drawn, asSeen, copies, sway, filter } = view;
    const facts = [
      piece.key,
      piece.shape,
      piece.material,
      drawn,
      seesFront,
      environment,
      light,
      asSeen,
      copies,
      sway,
      filter,
      view.behind,
      this.behind.shown,
    ];
    const shadowOf = JSON.stringify(facts);
    renderer.shadowMap.needsUpdate = shadowOf !== this.shadowOf;
    this.shadowOf = shadowOf;
    this.exposure.once(renderer, this.developed(view), () => renderer.render(this.scene, camera));
    this.showGlass(renderer, view, piece, frame);
  }

  refine(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece, frame: Frame): Summed | null {
    const of = samplesOf(view, piece, renderer.getPixelRatio());
    if (of === 0 || (this.refining && this.refining.samples >= of)) return null;
    if (!this.refining) this.pass = 0; // the same sum each time
    const { pictures } = (this.refining ??= { pictures: picturesOf(of), samples: 0 });
    const camera = this.setUp(renderer, view, piece);
    const { environment } = this.shown!;
    this.shadowOf = '';
    const next = pictures.next();
    if (next.done) return this.leave(of);
    const { light, sameShadow, pixel, done } = next.value;
    const { x, y } = shiftBy(camera, renderer, pixel);
    // what is cut by the cutoff stays as a target has it
    this.materials.setShift(view.asSeen ? 0 : x, view.asSeen ? 0 : y);
    environment.sample(light);
    SHADOW_TAPS.value.set(this.pass % 5, 1);
    SHADOW_TURN.value = (this.pass++ * GOLDEN_ANGLE) % (2 * Math.PI);
    renderer.shadowMap.needsUpdate = !sameShadow && (light.of === 'sky' || lightOf(view).strength > 0);
    const developed = this.developed(view);
    const draw = () => renderer.render(this.scene, camera);
    const isIn = this.exposure.add(renderer, developed, draw, light.of !== 'sky');
    environment.sample(null);
    SHADOW_TAPS.value.set(...AT_ONCE);
    SHADOW_TURN.value = 0;
    this.materials.setShift(0, 0);
    if (!isIn) return this.leave(of);
    if (done !== null) {
      this.exposure.showSum(renderer, developed, done);
      this.showGlass(renderer, view, piece, frame);
      this.refining.samples = done;
    }
    const { samples } = this.refining;
    if (samples >= of) this.exposure.freeSums();
    return { samples, of };
  }

  seen(part: Part, view: LitView, piece: DrawnPiece): Viewport {
    const { rect, copies = 1, glass } = view;
    // copies of it are everywhere, and a picture that was refined must not stay beside one that is not
    const isAlone = copies <= 1 && !glass && !this.refining?.samples;
    if (!isAlone) return { ...rect, x: 0, y: 0 };
    return seenLit(part, piece.surface, view.camera, rect, shadowWayOf(lightOf(view)));
  }

  dispose(): void {
    this.copies.dispose();
    this.shown?.environment.dispose();
    this.materials.dispose();
    this.farToNear.dispose();
    this.plainSurface.dispose();
    this.exposure.dispose();
    this.behind.dispose();
  }

  setBehind(picture: BehindPicture): void {
    this.behind.setPicture(picture);
  }

  /** How the card is drawn at another distance, and how much of it is kept there. @param side - Of the picture, pixels. */
  far(renderer: THREE.WebGLRenderer, view: LitView, piece: DrawnPiece, side: number): FarPicture | null {
    const camera = this.setUp(renderer, view, piece);
    this.refining = null; // its sum begins again
    this.exposure.freeSums();
    this.shadowOf = '';
    renderer.shadowMap.needsUpdate = true;
    const see = () => {
      this.materials.setReading(true);
      this.materials.setMaps(renderer, piece, 'trilinear');
    };
    const of = {
      see,
      ...this.developed(view),
      samples: samplesOf({ ...view, asSeen: true }, piece, renderer.getPixelRatio()),
    };
    return farPicture(renderer, this.exposure, this.scene, this.card, camera, of, side);
  }

  private showGlass(
    renderer: THREE.WebGLRenderer,
    view: LitView,
    piece: DrawnPiece,
    { canvas, pixelRatio }: Frame,
  ): void {
    const { glass, rect } = view;
    if (!glass) return;
    const kind = cameraKind(view.camera);
    const camera = kind.make();
    kind.place(camera, view.camera, rect);
    const { min, max } = piece.surface.bounds;
    const middle = toView(new THREE.Vector3(...min).add(new THREE.Vector3(...max)).multiplyScalar(0.5), camera, rect);
    const start = [
      middle.x - glass.width / (2 * GLASS_TIMES),
      rect.height - middle.y - glass.height / (2 * GLASS_TIMES),
    ].map((v) => Math.round(v * pixelRatio));
    const [x, y] = [rect.x + glass.x, canvas.height - rect.y - glass.y - glass.height];
    renderer.setViewport(x, y, glass.width, glass.height);
    renderer.setScissor(x, y, glass.width, glass.height);
    this.exposure.magnify(renderer, this.developed(view), [start[0], start[1]], GLASS_TIMES);
  }

  private developed(view: LitView): Developed {
    return { light: lightOf(view), backdrop: this.backdrop };
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
    const behind = view.behind ?? BEHIND_AT_FIRST;
    this.backdrop = this.behind.show(behind, rect, kind.seesFront(look));
    const isOpen = this.backdrop === null;
    const things = behind.kind === 'things' ? behind.things : 'nothing';
    const { scenery } = this.environmentOf(view.environment, light);
    scenery.show(things, isOpen, kind.seesFront(look));
    scenery.setFine(this.refining !== null);
    const isSorted = piece.material.mode === 'blend' && view.blendOrder === 'triangles';
    this.card.geometry = isSorted ? this.farToNear.sorted(piece.geometry, camera) : piece.geometry;
    this.copies.set(view.copies ?? 1);
    this.materials.setSway(view.sway ?? null);
    // nothing shadows a flat card that faces the sun, and looking that up takes a sixth of a frame
    const sun = shadowWayOf(light);
    this.card.receiveShadow = this.refining !== null || piece.isFolded || sun.z > 0;
    this.setPlain(piece.plain);
    this.materials.setMaps(renderer, piece, view.asSeen ? 'trilinear' : (view.filter ?? 'trilinear'));
    this.materials.setMaterial(piece.material, view.drawn, view.blendOrder ?? 'depth');
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

/** Radians: turns by it are spread evenly, however many there are. */
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

/** Places that a shadow is looked at in a single picture. */
const AT_ONCE = [0, 3] as const;

/** How much larger the glass shows the middle of the card. */
const GLASS_TIMES = 8;

const lightOf = ({ environment, light }: LitView): StandLight => light ?? ENVIRONMENT_LIGHTS[environment];

function samplesOf({ asSeen, atRest, camera, rect }: LitView, piece: DrawnPiece, pixelRatio: number): number {
  if (!asSeen) return atRest ?? 0;
  const { width, height } = (piece.clip?.image ?? NO_SIZE) as Size;
  return samplesToSee((cameraKind(camera).pixelAt(camera, rect) / pixelRatio) * Math.max(width, height));
}
const NO_SIZE: Size = { width: 1, height: 1 };
