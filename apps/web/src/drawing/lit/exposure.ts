import type { StandLight } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Viewport } from '../poses';

const TONES: Record<StandLight['tone'], THREE.ToneMapping> = {
  neutral: THREE.NeutralToneMapping,
  none: THREE.LinearToneMapping,
};

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
  private readonly adding = flat('c += texelFetch(more, at, 0).rgb;', false);
  private readonly developing = flat('c = max(c * scale, vec3(0.0));', true);

  /** Draws where the viewport and the scissor of the canvas are, and shows that. */
  once(renderer: THREE.WebGLRenderer, light: StandLight, draw: () => void): void {
    this.freeSums();
    const target = this.drawInto(renderer, draw);
    this.show(renderer, light, target, 1);
  }

  /** Of one of many that are summed. @returns false where they cannot be. */
  add(renderer: THREE.WebGLRenderer, draw: () => void): boolean {
    const [width, height] = sizeOf(renderer);
    if (width * height > MOST_PIXELS || !renderer.extensions.has('EXT_color_buffer_float')) return false;
    const more = this.drawInto(renderer, draw);
    if (!this.sums) {
      const target = () => makeTarget(width, height, THREE.FloatType, false);
      this.sums = [target(), target()];
      this.count = 0;
    }
    const [sum, next] = this.sums;
    const { uniforms } = this.adding;
    uniforms['of'].value = this.count === 0 ? NOTHING : sum.texture;
    uniforms['more'].value = more.texture;
    renderer.setRenderTarget(next);
    this.fill(renderer, this.adding);
    renderer.setRenderTarget(null);
    this.sums = [next, sum];
    this.count++;
    return true;
  }

  /** @param samples - That the sum is divided by. */
  showSum(renderer: THREE.WebGLRenderer, light: StandLight, samples: number): void {
    if (this.sums) this.show(renderer, light, this.sums[0], 1 / samples);
  }

  /**
   * Shows a part of what was shown last again, so many times as large, pixel for pixel, over the viewport as it is now.
   *
   * @param at - Its first pixel, from the bottom left of what was drawn.
   */
  magnify(renderer: THREE.WebGLRenderer, light: StandLight, at: readonly [number, number], times: number): void {
    if (this.shown) this.show(renderer, light, this.shown.target, this.shown.scale, at, times);
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
    light: StandLight,
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
    },
    vertexShader: 'void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }',
    fragmentShader: /* glsl */ `
      uniform sampler2D of, more;
      uniform vec2 from, start;
      uniform float scale, times;
      void main() {
        ivec2 at = ivec2(floor((gl_FragCoord.xy - from) / times + start));
        vec3 c = texelFetch(of, clamp(at, ivec2(0), textureSize(of, 0) - 1), 0).rgb;
        ${glsl}
        gl_FragColor = vec4(c, 1.0);
        ${developed ? '#include <tonemapping_fragment>\n#include <colorspace_fragment>' : ''}
      }`,
  });
}
