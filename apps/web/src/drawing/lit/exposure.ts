import type { StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Viewport } from '../poses';
import { BACKDROP_SHADER, BACKDROP_UNIFORMS, setBackdrop, type Backdrop } from './backdrop';

const TONES: Record<StandLight['tone'], THREE.ToneMapping> = {
  neutral: THREE.NeutralToneMapping,
  none: THREE.LinearToneMapping,
};

/** How what is drawn comes to the screen, and what is seen where nothing is drawn. */
export interface Developed {
  light: StandLight;
  backdrop: Backdrop | null;
}

/** More is not summed up: three pictures of 16 bytes a pixel would have to be kept. */
const MOST_PIXELS = 4_500_000;

/** A picture in linear light, of one drawing or of the sum of many, and how it comes to the screen. */
export class Exposure {
  private drawn: THREE.WebGLRenderTarget | null = null;
  /** The sum, and where the next one is put. */
  private sums: [THREE.WebGLRenderTarget, THREE.WebGLRenderTarget] | null = null;
  private count = 0;
  /** What was shown last. */
  private shown: { target: THREE.WebGLRenderTarget; scale: number } | null = null;
  private readonly camera = new THREE.Camera();
  private readonly whole = Object.assign(new THREE.Mesh(wholeView()), { frustumCulled: false });
  private readonly adding = flat('gl_FragColor = c + vec4(1.0, 1.0, 1.0, scale) * texelFetch(more, at, 0);', false);
  private readonly developing = flat(DEVELOPED, true);

  /** Draws where the viewport and the scissor of the canvas are, and shows that. */
  once(renderer: THREE.WebGLRenderer, how: Developed, draw: () => void): void {
    this.freeSums();
    const target = this.drawInto(renderer, draw, how.backdrop ? 0 : 1);
    this.show(renderer, how, target, 1);
  }

  /** Of one of many that are summed. @param covers - Whether what it covers counts. @returns false where they cannot be. */
  add(renderer: THREE.WebGLRenderer, { backdrop }: Developed, draw: () => void, covers: boolean): boolean {
    const [width, height] = sizeOf(renderer);
    if (width * height > MOST_PIXELS || !renderer.extensions.has('EXT_color_buffer_float')) return false;
    const more = this.drawInto(renderer, draw, backdrop ? 0 : 1);
    if (!this.sums) {
      const target = () => makeTarget(width, height, THREE.FloatType, false);
      this.sums = [target(), target()];
      this.count = 0;
    }
    const [sum, next] = this.sums;
    const { uniforms } = this.adding;
    uniforms['of'].value = this.count === 0 ? NOTHING : sum.texture;
    uniforms['more'].value = more.texture;
    uniforms['scale'].value = covers ? 1 : 0;
    renderer.setRenderTarget(next);
    this.fill(renderer, this.adding);
    renderer.setRenderTarget(null);
    this.sums = [next, sum];
    this.count++;
    return true;
  }

  /** @param samples - That the sum is divided by. */
  showSum(renderer: THREE.WebGLRenderer, how: Developed, samples: number): void {
    if (this.sums) this.show(renderer, how, this.sums[0], 1 / samples);
  }

  /**
   * Shows a part of what was shown last again, so many times as large, pixel for pixel, over the viewport as it is now.
   *
   * @param at - Its first pixel, from the bottom left of what was drawn.
   */
  magnify(renderer: THREE.WebGLRenderer, how: Developed, at: readonly [number, number], times: number): void {
    if (this.shown) this.show(renderer, how, this.shown.target, this.shown.scale, at, times);
  }

  /** What is drawn, in linear light with alpha, of a part of the view; rows from the bottom up. */
  read(
    renderer: THREE.WebGLRenderer,
    { x, y, width, height }: Viewport,
    draw: () => void,
    behind = 1,
  ): Float32Array | null {
    const whole = renderer.getScissor(new THREE.Vector4());
    const at = renderer.getCurrentViewport(new THREE.Vector4());
    const ratio = renderer.getPixelRatio();
    renderer.setScissor(
      ...([at.x + x, at.y + y, width, height].map((v) => (v + 0.01) / ratio) as [number, number, number, number]),
    );
    const target = this.drawInto(renderer, draw, behind);
    renderer.setScissor(whole);
    if (target.texture.type !== THREE.HalfFloatType) return null;
    const halves = new Uint16Array(4 * width * height);
    renderer.readRenderTargetPixels(target, x, y, width, height, halves);
    return Float32Array.from(halves, (v) => THREE.DataUtils.fromHalfFloat(v));
  }

  /** Gives up what was summed. */
  freeSums(): void {
    for (const target of this.sums ?? []) target.dispose();
    this.sums = null;
  }

  dispose(): void {
    this.freeSums();
    this.drawn?.dispose();
    this.drawn = null;
    this.adding.dispose();
    this.developing.dispose();
    this.whole.geometry.dispose();
  }

  /** @param behind - Alpha where nothing is drawn. */
  private drawInto(renderer: THREE.WebGLRenderer, draw: () => void, behind = 1): THREE.WebGLRenderTarget {
    const [width, height] = sizeOf(renderer);
    if (this.drawn?.width !== width || this.drawn.height !== height) {
      this.drawn?.dispose();
      const isFloat = renderer.extensions.has('EXT_color_buffer_float');
      this.drawn = makeTarget(width, height, isFloat ? THREE.HalfFloatType : THREE.UnsignedByteType, true);
    }
    const target = this.drawn;
    const [at, part] = [new THREE.Vector4(), new THREE.Vector4()];
    renderer.getCurrentViewport(at);
    renderer.getScissor(part).multiplyScalar(renderer.getPixelRatio()).floor();
    target.scissor.set(part.x - at.x, part.y - at.y, part.z, part.w);
    target.scissorTest = true;
    const surround = renderer.getClearColor(new THREE.Color());
    renderer.setClearColor(0, behind);
    renderer.setRenderTarget(target);
    renderer.clear();
    draw();
    renderer.setRenderTarget(null);
    renderer.setClearColor(surround);
    return target;
  }

  private show(
    renderer: THREE.WebGLRenderer,
    { light, backdrop }: Developed,
    target: THREE.WebGLRenderTarget,
    scale: number,
    start: readonly [number, number] = [0, 0],
    times = 1,
  ): void {
    this.shown = { target, scale };
    const { uniforms } = this.developing;
    const at = renderer.getCurrentViewport(new THREE.Vector4());
    uniforms['of'].value = target.texture;
    uniforms['from'].value = new THREE.Vector2(at.x, at.y);
    uniforms['scale'].value = scale;
    setBackdrop(uniforms, backdrop);
    uniforms['start'].value = new THREE.Vector2(...start);
    uniforms['times'].value = times;
    renderer.toneMapping = TONES[light.tone];
    renderer.toneMappingExposure = 2 ** light.exposure;
    this.fill(renderer, this.developing);
    renderer.toneMapping = THREE.NoToneMapping; // flat views show values as they are
  }

  private fill(renderer: THREE.WebGLRenderer, material: THREE.ShaderMaterial): void {
    this.whole.material = material;
    renderer.render(this.whole, this.camera);
  }
}

const NOTHING = new THREE.DataTexture(new Float32Array(4), 1, 1, THREE.RGBAFormat, THREE.FloatType);
NOTHING.needsUpdate = true;

/** In device pixels. */
function sizeOf(renderer: THREE.WebGLRenderer): [width: number, height: number] {
  const at = renderer.getCurrentViewport(new THREE.Vector4());
  return [Math.max(1, at.z), Math.max(1, at.w)];
}

function makeTarget(width: number, height: number, type: THREE.TextureDataType, depth: boolean) {
  return new THREE.WebGLRenderTarget(width, height, {
    type,
    depthBuffer: depth,
    minFilter: THREE.NearestFilter,
    magFilter: THREE.NearestFilter,
    generateMipmaps: false,
  });
}

/** A triangle that covers the view. */
function wholeView(): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3));
  return geometry;
}

/** Where it is covered by parts, what is behind it shows by the rest, in light of the screen: that is how it looks without it. */
const DEVELOPED = /* glsl */ `
c *= scale;
float covered = hasBackdrop == 1 ? clamp(c.a, 0.0, 1.0) : 1.0;
gl_FragColor = vec4(max(c.rgb / max(covered, 1e-4), vec3(0.0)), 1.0);
#include <tonemapping_fragment>
if (hasBackdrop == 1) gl_FragColor.rgb = mix(seenBehind((vec2(at) + 0.5) / vec2(textureSize(of, 0))), gl_FragColor.rgb, covered);
#include <colorspace_fragment>`;

/** Pixel by pixel. @param developed - Brought to the screen: exposure, tone curve, sRGB. */
function flat(glsl: string, developed: boolean): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    toneMapped: developed,
    uniforms: {
      of: { value: null },
      more: { value: null },
      from: { value: new THREE.Vector2() },
      scale: { value: 1 },
      start: { value: new THREE.Vector2() },
      times: { value: 1 },
      ...BACKDROP_UNIFORMS(),
    },
    vertexShader: 'void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }',
    fragmentShader: /* glsl */ `
      uniform sampler2D of, more;
      uniform vec2 from, start;
      uniform float scale, times;
      ${BACKDROP_SHADER}
      void main() {
        ivec2 at = ivec2(floor((gl_FragCoord.xy - from) / times + start));
        vec4 c = texelFetch(of, clamp(at, ivec2(0), textureSize(of, 0) - 1), 0);
        ${glsl}
      }`,
  });
}
