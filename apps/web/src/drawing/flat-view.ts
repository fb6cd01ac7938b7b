import { mapKind, type MapName } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { DrawnPiece } from './drawn-piece';
import { pixelsAround, type Viewport } from './poses';
import type { SheetLook } from './sheet-pose';
import type { Frame, Part, ViewPainter, ViewPlaced } from './view-painter';

/** A map by itself, or the picture seen through the clip. */
export type SheetMode = MapName | 'kept' | 'fringe';
/** A map by itself, cut where the mask drops, or half over the colour. */
export const MAP_LOOKS = ['whole', 'cut', 'over colour'] as const;
export type MapLook = (typeof MAP_LOOKS)[number];

/** The picture laid flat. */
export interface FlatView extends ViewPlaced {
  kind: 'flat';
  look: SheetLook;
  mode: SheetMode;
  mapLook: MapLook;
  /** Dropped texels show the picture beneath their linen: what is painted must be seen. */
  beneath: boolean;
  /** Whether soft texels that are dropped are marked, where what is kept is shown. */
  softMarked: boolean;
}

/** What the shader does; a map that has none of its own is drawn as it is. */
const SHADES: Partial<Record<SheetMode, number>> = { mask: 1, kept: 2, fringe: 3 };
const AS_IT_IS = 0;
const LOOKS: Record<MapLook, number> = { whole: 0, cut: 1, 'over colour': 2 };

/**
 * What a shader does and leaves out. Constants, not uniforms: graphics in software go through what is left out too, which
 * made the Sheet take twice as long.
 */
interface Ways {
  MODE: number;
  LOOK: number;
  SINGLE: 0 | 1;
  VALUES: 0 | 1;
  BENEATH: 0 | 1;
  SOFT_MARKED: 0 | 1;
  /** Texels looked at for a pixel, along each side. */
  TAPS: 1 | 2;
}
const START: Ways = { MODE: 2, LOOK: 0, SINGLE: 0, VALUES: 0, BENEATH: 0, SOFT_MARKED: 1, TAPS: 2 };

export class FlatPainter implements ViewPainter<FlatView> {
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly uniforms = {
    colour: { value: null as THREE.Texture | null },
    mask: { value: null as THREE.Texture | null },
    over: { value: null as THREE.Texture | null },
    cutoff: { value: 0.5 },
    opacity: { value: 1 },
    pictureSize: { value: new THREE.Vector2(1, 1) },
    origin: { value: new THREE.Vector2() },
    texelsPerPixel: { value: 1 },
    viewport: { value: new THREE.Vector4() },
    pixelRatio: { value: 1 },
  };

  private readonly shaders = new Map<string, THREE.RawShaderMaterial>();
  private readonly mesh = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.shaderOf(START));

  constructor() {
    this.mesh.frustumCulled = false;
    this.scene.add(this.mesh);
  }

  /** Each way to show is a shader of its own, compiled when it is first asked for. */
  private shaderOf(ways: Ways): THREE.RawShaderMaterial {
    const key = Object.values(ways).join(' ');
    let shader = this.shaders.get(key);
    if (shader) return shader;
    shader = new THREE.RawShaderMaterial({
      glslVersion: THREE.GLSL3,
      defines: { ...ways },
      uniforms: this.uniforms,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      depthTest: false,
      depthWrite: false,
    });
    this.shaders.set(key, shader);
    return shader;
  }

  seen(
    { box: { x0, y0, x1, y1 }, picture }: Part,
    { look: { centre, zoom, picture: whole }, rect }: FlatView,
  ): Viewport {
    const [across, down] = [whole.width / picture.width, whole.height / picture.height];
    const corners = [
      [x0, y0],
      [x1, y1],
    ].map(([x, y]) => ({
      x: (x * across - centre.x) * zoom + rect.width / 2,
      y: (y * down - centre.y) * zoom + rect.height / 2,
    }));
    return pixelsAround(corners, 2 + 2 * zoom * Math.max(across, down), rect); // what the sampling around its rim reaches
  }

  draw(
    renderer: THREE.WebGLRenderer,
    { rect, look, mode, mapLook, beneath, softMarked }: FlatView,
    piece: DrawnPiece,
    { canvas, pixelRatio }: Frame,
  ): void {
    piece.sampleTextures(renderer, 'clamped');
    const { uniforms } = this;
    const shade = SHADES[mode] ?? AS_IT_IS;
    const map = shade === AS_IT_IS ? (mode as MapName) : 'colour';
    // what is kept, and its fringe, are of the run's own mask, whose fringe is the edge
    uniforms.mask.value = mode === 'mask' ? piece.clip : piece.texture('mask');
    uniforms.colour.value = (map === 'colour' && piece.texture('source')) || piece.texture(map);
    uniforms.over.value = piece.texture('colour');
    uniforms.cutoff.value = piece.material.cutoff;
    uniforms.opacity.value = piece.material.opacity;
    uniforms.origin.value.set(look.centre.x - rect.width / 2 / look.zoom, look.centre.y - rect.height / 2 / look.zoom);
    const texelsPerPixel = 1 / (look.zoom * pixelRatio);
    uniforms.texelsPerPixel.value = texelsPerPixel;
    this.mesh.material = this.shaderOf({
      MODE: shade,
      LOOK: shade === AS_IT_IS && map !== 'colour' ? LOOKS[mapLook] : LOOKS.whole,
      SINGLE: mapKind(map).channels === 1 ? 1 : 0,
      VALUES: mapKind(map).holds === 'data' ? 1 : 0,
      BENEATH: beneath ? 1 : 0,
      SOFT_MARKED: softMarked ? 1 : 0,
      TAPS: texelsPerPixel > 1 ? 2 : 1,
    });
    uniforms.pictureSize.value.set(look.picture.width, look.picture.height);
    uniforms.pixelRatio.value = pixelRatio;
    const bottom = canvas.height - rect.y - rect.height;
    uniforms.viewport.value.set(rect.x, bottom, rect.width, rect.height).multiplyScalar(pixelRatio);
    renderer.render(this.scene, this.camera);
  }

  dispose(): void {
    for (const shader of this.shaders.values()) shader.dispose();
    this.mesh.geometry.dispose();
  }
}

const VERTEX = /* glsl */ `
in vec3 position;
void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

/** Magnified: the nearest texel itself. Minified: 4 texels of the footprint, each clipped apart, so coverage is true. */
const FRAGMENT = /* glsl */ `
precision highp float;
precision highp int;
uniform sampler2D colour, mask, over;
uniform float cutoff, opacity, texelsPerPixel, pixelRatio;
uniform vec2 pictureSize, origin;
uniform vec4 viewport;
out vec4 outColour;

/* The texture gives colour in linear light, values as they are. */
vec3 light(vec3 c) { return mix(12.92 * c, 1.055 * pow(max(c, vec3(1e-6)), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)); }
vec3 encode(vec3 c) { return VALUES == 1 ? c : light(c); }

float alphaAt(vec2 texel) {
  vec2 size = vec2(textureSize(mask, 0));
  return texelFetch(mask, ivec2(clamp(floor(texel / pictureSize * size), vec2(0.0), size - 1.0)), 0).r;
}

vec3 texelAt(sampler2D map, vec2 texel) {
  vec2 size = vec2(textureSize(map, 0));
  vec2 uv = texel / pictureSize;
  float perPixel = texelsPerPixel * size.x / pictureSize.x;
  if (perPixel <= 1.0) return texelFetch(map, ivec2(clamp(floor(uv * size), vec2(0.0), size - 1.0)), 0).rgb;
  return textureLod(map, uv, log2(perPixel)).rgb;
}

vec3 colourAt(vec2 texel) {
  vec3 c = texelAt(colour, texel);
  return encode(SINGLE == 1 ? c.rrr : c);
}

/* Linen: two sets of fine crossing threads, in screen pixels. */
vec3 linen(vec2 pixel) {
  vec2 p = pixel / pixelRatio;
  float a = step(mod(p.x + p.y, 5.0), 1.0);
  float b = step(mod(p.x - p.y + 4096.0, 5.0), 1.0);
  return mix(vec3(0.843, 0.816, 0.757), vec3(0.753, 0.722, 0.647), max(a, b));
}

/* What a dropped texel looks like: linen, or threads of it over the picture. */
vec3 dropped(vec2 pixel, vec2 texel) {
#if BENEATH == 0
  return linen(pixel);
#else
  vec2 p = floor(pixel / pixelRatio);
  bool thread = mod(p.x + p.y, 5.0) < 1.0 || mod(p.x - p.y + 4096.0, 5.0) < 1.0;
  vec3 c = mix(colourAt(texel), vec3(0.84, 0.81, 0.75), 0.34);
  bool light = dot(c, vec3(0.2126, 0.7152, 0.0722)) > 0.6; // the threads stand out from what lies beneath
  return thread ? mix(c, light ? vec3(0.33, 0.31, 0.26) : vec3(0.93, 0.91, 0.85), light ? 0.5 : 0.62) : c;
#endif
}

void main() {
  vec2 pixel = vec2(gl_FragCoord.x - viewport.x, viewport.w - (gl_FragCoord.y - viewport.y));
  vec2 texel = origin + pixel * texelsPerPixel;
  if (texel.x < 0.0 || texel.y < 0.0 || texel.x >= pictureSize.x || texel.y >= pictureSize.y) {
    outColour = vec4(0.467, 0.475, 0.478, 1.0);
    return;
  }
  float alpha = 0.0, kept = 0.0, partly = 0.0;
  const float share = 1.0 / float(TAPS * TAPS);
  for (int j = 0; j < TAPS; j++) for (int i = 0; i < TAPS; i++) {
#if TAPS == 1
    float a = alphaAt(texel);
#else
    float a = alphaAt(texel + (vec2(float(i), float(j)) - 0.5) * 0.5 * texelsPerPixel);
#endif
    alpha += a * share;
    if (a * opacity >= cutoff) kept += share;
    if (a > 0.02 && a < 0.98) partly += share;
  }
  vec3 amber = vec3(0.847, 0.588, 0.18);
  bool dotted = mod(floor(pixel.x / pixelRatio) + floor(pixel.y / pixelRatio), 2.0) < 1.0;
  vec3 shown = vec3(0.0);
#if MODE == 0
  shown = colourAt(texel);
  #if LOOK == 2
  shown = mix(light(texelAt(over, texel)), shown, 0.6);
  #endif
  #if LOOK != 0
  shown = mix(linen(pixel), shown, kept);
  #endif
#elif MODE == 1
  shown = vec3(alpha);
#elif MODE == 2
  if (kept < 1.0) shown = dropped(pixel, texel);
  if (kept > 0.0) shown = mix(shown, colourAt(texel), kept);
  #if SOFT_MARKED == 1
  if (partly * (1.0 - kept) > 0.0) shown = mix(shown, amber, min(1.0, 2.0 * partly * (1.0 - kept)) * (dotted ? 0.95 : 0.55));
  #endif
#else
  vec3 c = colourAt(texel);
  float grey = dot(c, vec3(0.2126, 0.7152, 0.0722));
  shown = mix(dropped(pixel, texel), vec3(0.25 + 0.45 * grey), kept);
  shown = mix(shown, amber, min(1.0, 1.6 * partly) * (dotted ? 1.0 : 0.7));
#endif
  outColour = vec4(shown, 1.0);
}
`;
