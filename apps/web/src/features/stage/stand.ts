import { CARD_ROUGHNESS, cardGeometry, type CardSize, type Material } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Backdrop } from '../../stores/bench.store';
import type { Viewport } from './sheet';

const FIELD_OF_VIEW = 34;
const MODES = { opaque: 0, mask: 1, blend: 2 } as const;
const BACKDROPS: Record<Backdrop, { sky: [number, number]; ground: number; fill: number }> = {
  shore: { sky: [0x7f97a6, 0xd9d6cb], ground: 0x8d8371, fill: 0.9 },
  pale: { sky: [0xcfcdc8, 0xe9e7e2], ground: 0xc9c6bf, fill: 1.15 },
  dark: { sky: [0x17191b, 0x2e3133], ground: 0x2b2a28, fill: 0.55 },
};

/** The lit view: the card on the ground, something behind it, one sun with a shadow. The card's longer side is 1. */
export class Stand {
  readonly scene = new THREE.Scene();
  readonly camera = new THREE.PerspectiveCamera(FIELD_OF_VIEW, 1, 0.05, 400);
  private azimuth = 0.42;
  private elevation = 0.16;
  private distance = 1.9;
  private card = new THREE.Mesh<THREE.BufferGeometry, THREE.MeshStandardMaterial>();
  private aim = new THREE.Vector3(0, 0.5, 0);
  private size: CardSize = { width: 1, height: 1 };
  private readonly shared = {
    cardMask: { value: null as THREE.Texture | null },
    cardMode: { value: 1 },
    cardCutoff: { value: 0.5 },
    cardOpacity: { value: 1 },
  };
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
    this.sun.position.set(-1.6, 2.4, 1.9);
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(1024, 1024);
    Object.assign(this.sun.shadow.camera, { left: -1.3, right: 1.3, top: 1.3, bottom: -1.3, near: 0.1, far: 8 });
    this.sun.target.position.set(0, 0.3, -0.3);
    this.sun.shadow.bias = -0.002;
    this.behind.add(ball, post);
    this.scene.add(this.sky, this.ground, this.behind, this.card, this.fill, this.sun, this.sun.target);
    this.setBackdrop('shore');
  }

  setTextures(colour: THREE.Texture | null, mask: THREE.Texture | null): void {
    this.shared.cardMask.value = mask;
    if (this.surface.map !== colour) {
      if (!this.surface.map || !colour) this.surface.needsUpdate = true;
      this.surface.map = colour;
    }
    this.card.visible = Boolean(colour && mask);
  }

  setCard(width: number, height: number): void {
    const longest = Math.max(width, height);
    const size = { width: width / longest, height: height / longest };
    if (size.width === this.size.width && size.height === this.size.height && this.card.geometry.index) return;
    this.size = size;
    const { positions, normals, uvs, indices } = cardGeometry(size);
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    geometry.setAttribute('uv', new THREE.BufferAttribute(uvs, 2));
    geometry.setIndex(new THREE.BufferAttribute(indices, 1));
    this.card.geometry.dispose();
    this.card.geometry = geometry;
    this.aim.set(0, size.height / 2, 0);
  }

  setMaterial({ mode, cutoff, doubleSided, opacity }: Material): void {
    this.shared.cardMode.value = MODES[mode];
    this.shared.cardCutoff.value = cutoff;
    this.shared.cardOpacity.value = opacity;
    const side = doubleSided ? THREE.DoubleSide : THREE.FrontSide;
    const transparent = mode === 'blend';
    if (this.surface.side === side && this.surface.transparent === transparent) return;
    this.surface.side = side; // back faces: three reverses the normal before lighting, as glTF 2.0 §3.9.5 asks
    this.surface.transparent = transparent;
    this.surface.needsUpdate = true;
  }

  setBackdrop(name: Backdrop): void {
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

  orbitBy(dx: number, dy: number): void {
    this.azimuth -= dx * 0.008;
    this.elevation = Math.min(1.45, Math.max(-0.02, this.elevation + dy * 0.006));
  }

  /** To the same view of the other face. */
  flip(): void {
    this.azimuth += Math.PI;
  }

  setDistance(sides: number): void {
    this.distance = sides;
  }

  /** Whether the camera sees the face that the picture was drawn for. */
  get seesFront(): boolean {
    return Math.cos(this.azimuth) >= 0;
  }

  get azimuthDegrees(): number {
    return Math.round(((((this.azimuth * 180) / Math.PI) % 360) + 360) % 360);
  }

  /** Mip level that the card is seen at, from the height of one texel on the screen; 0 is full size. */
  mipLevel(pictureHeight: number, view: Viewport, pixelRatio: number): number {
    const tall =
      (this.size.height / (2 * this.distance * Math.tan((FIELD_OF_VIEW * Math.PI) / 360))) * view.height * pixelRatio;
    return Math.max(0, Math.log2(pictureHeight / tall));
  }

  /** Where on the picture, 0–1 from the top left, a point of the view falls; null beside the card. */
  pictureAt(x: number, y: number, view: Viewport): { u: number; v: number } | null {
    this.placeCamera(view);
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / view.width) * 2 - 1, 1 - (y / view.height) * 2), this.camera);
    const before = this.surface.side;
    this.surface.side = THREE.DoubleSide;
    const [hit] = ray.intersectObject(this.card);
    this.surface.side = before;
    return hit?.uv ? { u: hit.uv.x, v: hit.uv.y } : null;
  }

  /** Where in the view a place of the picture is seen. */
  pointOf(u: number, v: number, view: Viewport): { x: number; y: number } {
    this.placeCamera(view);
    const at = new THREE.Vector3((u - 0.5) * this.size.width, (1 - v) * this.size.height, 0).project(this.camera);
    return { x: ((at.x + 1) / 2) * view.width, y: ((1 - at.y) / 2) * view.height };
  }

  draw(renderer: THREE.WebGLRenderer, view: Viewport): void {
    this.placeCamera(view);
    renderer.render(this.scene, this.camera);
  }

  private placeCamera(view: Viewport): void {
    this.behind.rotation.y = this.seesFront ? 0 : Math.PI;
    const flat = Math.cos(this.elevation) * this.distance;
    this.camera.position.set(
      this.aim.x + Math.sin(this.azimuth) * flat,
      Math.max(0.02, this.aim.y + Math.sin(this.elevation) * this.distance),
      this.aim.z + Math.cos(this.azimuth) * flat,
    );
    this.camera.aspect = view.width / view.height;
    this.camera.lookAt(this.aim);
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
  }

  /** Physically based shading by three; alpha and the clip are ours: kept where alpha · factor ≥ cutoff (§3.9.4). */
  private makeSurface(): THREE.MeshStandardMaterial {
    const material = new THREE.MeshStandardMaterial({
      roughness: CARD_ROUGHNESS,
      metalness: 0,
      side: THREE.DoubleSide,
    });
    material.shadowSide = THREE.DoubleSide;
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.shared);
      shader.fragmentShader = shader.fragmentShader.replace('void main() {', `${CLIP_UNIFORMS}\nvoid main() {`).replace(
        '#include <alphamap_fragment>',
        `#ifdef USE_MAP
            float cardAlpha = texture2D(cardMask, vMapUv).r * cardOpacity;
            if (cardMode == 1 && cardAlpha < cardCutoff) discard;
            diffuseColor.a = cardMode == 2 ? cardAlpha : 1.0;
          #endif`,
      );
    };
    return material;
  }

  /** The shadow is cut by the mask; with blend, which casts no partial shadow, at one half. */
  private makeShadowCaster(): THREE.MeshDepthMaterial {
    const material = new THREE.MeshDepthMaterial({ depthPacking: THREE.RGBADepthPacking });
    material.onBeforeCompile = (shader) => {
      Object.assign(shader.uniforms, this.shared);
      shader.vertexShader = shader.vertexShader.replace(
        'void main() {',
        'varying vec2 vCardUv;\nvoid main() {\n vCardUv = uv;',
      );
      shader.fragmentShader = shader.fragmentShader.replace(
        'void main() {',
        `${CLIP_UNIFORMS}\nvarying vec2 vCardUv;\nvoid main() {
          float cardAlpha = texture2D(cardMask, vCardUv).r * cardOpacity;
          if (cardMode == 1 && cardAlpha < cardCutoff) discard;
          if (cardMode == 2 && cardAlpha < 0.5) discard;`,
      );
    };
    return material;
  }
}

const CLIP_UNIFORMS =
  'uniform sampler2D cardMask; uniform int cardMode; uniform float cardCutoff; uniform float cardOpacity;';
