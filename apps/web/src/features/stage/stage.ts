import type { Mask, Picture } from '@lithe-sieve/core';
import * as THREE from 'three';
import { tellTiming } from '../../engine/timing';
import { Sheet, type Viewport } from './sheet';
import { Stand } from './stand';
import { LevelTexture } from './textures';

export type ViewName = 'sheet' | 'stand';

let kept: Stage | null = null;

/**
 * The one stage of the page. It outlives the Bench: a context costs a second to set up, and going to the Hand-off and
 * back must not.
 *
 * @throws Error where there is no WebGL 2.
 */
export function theStage(): Stage {
  kept ??= new Stage();
  return kept;
}

/**
 * One canvas under both views, so that each texture is uploaded once. Views are drawn when something changed, never in
 * an idle loop; a view that did not change keeps its pixels.
 */
export class Stage {
  readonly sheet = new Sheet();
  readonly stand = new Stand();
  readonly maxSide: number;
  private readonly renderer: THREE.WebGLRenderer;
  private readonly mask: LevelTexture;
  private readonly colour: LevelTexture;
  private readonly sourceColour: LevelTexture;
  private readonly stale = new Set<ViewName>();
  private views: Record<ViewName, Viewport> = { sheet: nowhere(), stand: nowhere() };
  private canvasSize = { width: 0, height: 0 };
  private frame = 0;
  private showsSource = false;
  private warmed = false;
  /** What it took to show the last frame, and when the Stand was drawn last. */
  private presentMs = 0;
  private standDrawnAt = 0;

  readonly canvas = document.createElement('canvas');

  constructor() {
    this.canvas.setAttribute('aria-hidden', 'true');
    this.canvas.dataset['test'] = 'drawing';
    const { canvas } = this;
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, alpha: false, preserveDrawingBuffer: true });
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.autoClear = false;
    this.maxSide = this.renderer.capabilities.maxTextureSize;
    this.mask = new LevelTexture('mask', this.maxSide);
    this.colour = new LevelTexture('colour', this.maxSide);
    this.sourceColour = new LevelTexture('colour', this.maxSide);
  }

  /** Places of the views in CSS pixels of the canvas. */
  layOut(width: number, height: number, views: Record<ViewName, Viewport>): void {
    if (width !== this.canvasSize.width || height !== this.canvasSize.height) {
      this.canvasSize = { width, height };
      this.renderer.setPixelRatio(window.devicePixelRatio);
      this.renderer.setSize(width, height, false);
    }
    this.views = views;
    this.renderer.setScissorTest(false);
    this.renderer.setClearColor(SURROUND);
    this.renderer.clear();
    this.invalidate('sheet', 'stand');
  }

  setMask(levels: readonly Mask[]): void {
    this.mask.set(levels);
    this.bind();
  }

  setColour(levels: readonly Picture[]): void {
    this.colour.set(levels);
    this.bind();
  }

  /** Shows a source on the Sheet instead of the result; null goes back. */
  setSource(levels: readonly Picture[] | null): void {
    this.showsSource = levels !== null;
    if (levels) this.sourceColour.set(levels);
    else this.sourceColour.dispose();
    this.bind();
  }

  private bind(): void {
    const sheetColour = this.showsSource ? this.sourceColour.value : this.colour.value;
    if (sheetColour && this.mask.value) this.sheet.setTextures(sheetColour, this.mask.value);
    this.stand.setTextures(this.colour.value, this.mask.value);
    this.invalidate('sheet', 'stand');
  }

  view(name: ViewName): Viewport {
    return this.views[name];
  }

  get pixelRatio(): number {
    return this.renderer.getPixelRatio();
  }

  /** Draws these views in the next frame. */
  invalidate(...names: ViewName[]): void {
    for (const name of names) this.stale.add(name);
    this.frame ||= requestAnimationFrame(() => this.draw());
  }

  private draw(): void {
    const started = performance.now();
    this.frame = 0;
    const later = this.mustPause(started);
    for (const name of this.stale) {
      if (later && name === 'stand') continue;
      this.drawView(name);
      if (name === 'stand') this.standDrawnAt = started;
    }
    this.stale.clear();
    if (later) {
      this.stale.add('stand');
      setTimeout(() => this.invalidate(), STAND_PAUSE_MS);
    }
    tellTiming('frame', performance.now() - started);
    const drawn = performance.now();
    setTimeout(() => (this.presentMs = performance.now() - drawn)); // runs once the browser has shown the frame
  }

  /**
   * Where graphics are computed in software a frame holds up the page. Then, while both views change, the Sheet goes
   * first and the Stand follows a few times a second.
   */
  private mustPause(now: number): boolean {
    const both = this.stale.has('sheet') && this.stale.has('stand');
    return both && this.presentMs > SLOW_MS && now - this.standDrawnAt < STAND_PAUSE_MS;
  }

  private drawView(name: ViewName): void {
    const view = this.views[name];
    if (view.width < 2 || view.height < 2 || !this.mask.value || !this.colour.value) return;
    const bottom = this.canvasSize.height - view.y - view.height;
    this.renderer.setViewport(view.x, bottom, view.width, view.height);
    this.renderer.setScissor(view.x, bottom, view.width, view.height);
    this.renderer.setScissorTest(true);
    this.renderer.clear();
    if (name === 'sheet') this.sheet.draw(this.renderer, view, this.canvasSize.height);
    else this.stand.draw(this.renderer, view);
  }

  /** Frees what was shown and, once, compiles every shader on a picture of one texel: the first real one shows at once. */
  warm(): void {
    this.forget();
    if (this.warmed) return;
    this.warmed = true;
    const texel = { width: 1, height: 1, data: new Uint8Array(4) };
    this.mask.set([{ ...texel, channels: 1, data: new Uint8Array(1) }]);
    this.colour.set([{ ...texel, channels: 4 }]);
    this.bind();
    this.layOut(64, 32, {
      sheet: { x: 0, y: 0, width: 32, height: 32 },
      stand: { x: 32, y: 0, width: 32, height: 32 },
    });
    this.draw();
    this.forget();
  }

  /** Frees the pictures of a piece that was left. */
  forget(): void {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    for (const texture of [this.mask, this.colour, this.sourceColour]) texture.dispose();
    this.showsSource = false;
    this.views = { sheet: nowhere(), stand: nowhere() };
  }
}

const SLOW_MS = 40;
const STAND_PAUSE_MS = 350;

/** Neutral mid-grey around both views, so that the chrome does not tint the judgement of edges. */
const SURROUND = 0x77797a;

function nowhere(): Viewport {
  return { x: 0, y: 0, width: 0, height: 0 };
}
