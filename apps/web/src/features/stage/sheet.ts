import * as THREE from 'three';
import type { SheetMode } from '../../stores/bench.store';

export interface Viewport {
  /** CSS pixels from the canvas's top left. */
  x: number;
  y: number;
  width: number;
  height: number;
}

const MODES: Record<SheetMode, number> = { picture: 0, mask: 1, kept: 2, fringe: 3 };
const MAX_ZOOM = 64; // screen pixels a texel
const MIN_ZOOM_OF_FIT = 0.25;

/** The flat view: pan and zoom over the picture, drawn by one shader. Distances in texels and CSS pixels. */
export class Sheet {
  readonly scene = new THREE.Scene();
  readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  /** Texel at the middle of the view. */
  private centre = { x: 0, y: 0 };
  /** CSS pixels a texel. */
  private zoom = 1;
  private picture = { width: 1, height: 1 };
  private readonly uniforms = {
    colour: { value: null as THREE.Texture | null },
    mask: { value: null as THREE.Texture | null },
    mode: { value: 2 },
    cutoff: { value: 0.5 },
    opacity: { value: 1 },
    pictureSize: { value: new THREE.Vector2(1, 1) },
    origin: { value: new THREE.Vector2() },
    texelsPerPixel: { value: 1 },
    viewport: { value: new THREE.Vector4() },
    pixelRatio: { value: 1 },
  };

  constructor() {
    const material = new THREE.RawShaderMaterial({
      glslVersion: THREE.GLSL3,
      uniforms: this.uniforms,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      depthTest: false,
      depthWrite: false,
    });
    const mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    mesh.frustumCulled = false;
    this.scene.add(mesh);
  }

  /** @returns true where the size changed, so that the view must be fitted anew. */
  setPicture(width: number, height: number): boolean {
    const changed = width !== this.picture.width || height !== this.picture.height;
    this.picture = { width, height };
    return changed;
  }

  setTextures(colour: THREE.Texture | null, mask: THREE.Texture | null): void {
    this.uniforms.colour.value = colour;
    this.uniforms.mask.value = mask;
  }

  setLook(mode: SheetMode, cutoff: number, opacity: number): void {
    this.uniforms.mode.value = MODES[mode];
    this.uniforms.cutoff.value = cutoff;
    this.uniforms.opacity.value = opacity;
  }

  fit(view: Viewport): void {
    this.centre = { x: this.picture.width / 2, y: this.picture.height / 2 };
    this.zoom = this.fitZoom(view);
  }

  private fitZoom(view: Viewport): number {
    return Math.min(view.width / this.picture.width, (view.height - 64) / this.picture.height) * 0.96;
  }

  /** One texel on one pixel of the screen. */
  oneToOne(): void {
    this.zoom = 1 / window.devicePixelRatio;
  }

  panBy(dx: number, dy: number): void {
    this.centre.x = clamp(this.centre.x - dx / this.zoom, 0, this.picture.width);
    this.centre.y = clamp(this.centre.y - dy / this.zoom, 0, this.picture.height);
  }

  /** Zooms by a factor and keeps the texel under the given point of the view where it is. */
  zoomAt(factor: number, x: number, y: number, view: Viewport): void {
    const before = this.texelAt(x, y, view);
    this.zoom = clamp(this.zoom * factor, this.fitZoom(view) * MIN_ZOOM_OF_FIT, MAX_ZOOM);
    const after = this.texelAt(x, y, view);
    this.centre.x = clamp(this.centre.x + before.x - after.x, 0, this.picture.width);
    this.centre.y = clamp(this.centre.y + before.y - after.y, 0, this.picture.height);
  }

  /** Texel coordinates, with their fraction, of a point in the view. */
  texelAt(x: number, y: number, view: Viewport): { x: number; y: number } {
    return {
      x: this.centre.x + (x - view.width / 2) / this.zoom,
      y: this.centre.y + (y - view.height / 2) / this.zoom,
    };
  }

  pointOf(texelX: number, texelY: number, view: Viewport): { x: number; y: number } {
    return {
      x: (texelX - this.centre.x) * this.zoom + view.width / 2,
      y: (texelY - this.centre.y) * this.zoom + view.height / 2,
    };
  }

  get scale(): number {
    return this.zoom;
  }

  draw(renderer: THREE.WebGLRenderer, view: Viewport, canvasHeight: number): void {
    const ratio = renderer.getPixelRatio();
    const origin = this.texelAt(0, 0, view);
    this.uniforms.origin.value.set(origin.x, origin.y);
    this.uniforms.texelsPerPixel.value = 1 / (this.zoom * ratio);
    this.uniforms.pictureSize.value.set(this.picture.width, this.picture.height);
    this.uniforms.pixelRatio.value = ratio;
    const bottom = canvasHeight - view.y - view.height;
    this.uniforms.viewport.value.set(view.x * ratio, bottom * ratio, view.width * ratio, view.height * ratio);
    renderer.render(this.scene, this.camera);
  }
}

function clamp(v: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, v));
}

const VERTEX = /* glsl */ `
in vec3 position;
void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

/** Magnified: the nearest texel itself. Minified: 4 texels of the footprint, each clipped apart, so coverage is true. */
const FRAGMENT = /* glsl */ `
precision highp float;
precision highp int;
uniform sampler2D colour, mask;
uniform int mode;
uniform float cutoff, opacity, texelsPerPixel, pixelRatio;
uniform vec2 pictureSize, origin;
uniform vec4 viewport;
out vec4 outColour;

vec3 encode(vec3 c) { return mix(12.92 * c, 1.055 * pow(max(c, vec3(1e-6)), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)); }

float alphaAt(vec2 texel) {
  vec2 size = vec2(textureSize(mask, 0));
  return texelFetch(mask, ivec2(clamp(floor(texel / pictureSize * size), vec2(0.0), size - 1.0)), 0).r;
}

vec3 colourAt(vec2 texel) {
  vec2 size = vec2(textureSize(colour, 0));
  vec2 uv = texel / pictureSize;
  float perPixel = texelsPerPixel * size.x / pictureSize.x;
  if (perPixel <= 1.0) return encode(texelFetch(colour, ivec2(clamp(floor(uv * size), vec2(0.0), size - 1.0)), 0).rgb);
  return encode(textureLod(colour, uv, log2(perPixel)).rgb);
}

/* Linen: two sets of fine crossing threads, in screen pixels. */
vec3 linen(vec2 pixel) {
  vec2 p = pixel / pixelRatio;
  float a = step(mod(p.x + p.y, 5.0), 1.0);
  float b = step(mod(p.x - p.y + 4096.0, 5.0), 1.0);
  return mix(vec3(0.843, 0.816, 0.757), vec3(0.753, 0.722, 0.647), max(a, b));
}

void main() {
  vec2 pixel = vec2(gl_FragCoord.x - viewport.x, viewport.w - (gl_FragCoord.y - viewport.y));
  vec2 texel = origin + pixel * texelsPerPixel;
  if (texel.x < 0.0 || texel.y < 0.0 || texel.x >= pictureSize.x || texel.y >= pictureSize.y) {
    outColour = vec4(0.467, 0.475, 0.478, 1.0);
    return;
  }
  float alpha = 0.0, kept = 0.0, partly = 0.0;
  int taps = texelsPerPixel > 1.0 ? 2 : 1;
  float share = 1.0 / float(taps * taps);
  for (int j = 0; j < taps; j++) for (int i = 0; i < taps; i++) {
    vec2 offset = taps == 1 ? vec2(0.0) : (vec2(float(i), float(j)) - 0.5) * 0.5 * texelsPerPixel;
    float a = alphaAt(texel + offset);
    alpha += a * share;
    if (a * opacity >= cutoff) kept += share;
    if (a > 0.02 && a < 0.98) partly += share;
  }
  vec3 amber = vec3(0.847, 0.588, 0.18);
  bool dotted = mod(floor(pixel.x / pixelRatio) + floor(pixel.y / pixelRatio), 2.0) < 1.0;
  vec3 shown;
  if (mode == 0) shown = colourAt(texel);
  else if (mode == 1) shown = vec3(alpha);
  else if (mode == 2) {
    shown = linen(pixel);
    if (kept > 0.0) shown = mix(shown, colourAt(texel), kept);
    if (partly * (1.0 - kept) > 0.0) shown = mix(shown, amber, min(1.0, 2.0 * partly * (1.0 - kept)) * (dotted ? 0.95 : 0.55));
  } else {
    vec3 c = colourAt(texel);
    float grey = dot(c, vec3(0.2126, 0.7152, 0.0722));
    shown = mix(linen(pixel), vec3(0.25 + 0.45 * grey), kept);
    shown = mix(shown, amber, min(1.0, 1.6 * partly) * (dotted ? 1.0 : 0.7));
  }
  outColour = vec4(shown, 1.0);
}
`;
