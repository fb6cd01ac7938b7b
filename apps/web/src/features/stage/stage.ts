import type { Mask, Picture } from '@lithe-sieve/core';
import * as THREE from 'three';
import { Sheet, type Viewport } from './sheet';
import { Stand } from './stand';
import { LevelTexture } from './textures';

export type ViewName = 'sheet' | 'stand';

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
  /** Milliseconds that the last frame took on the main thread. */
  lastFrameMs = 0;

  constructor(canvas: HTMLCanvasElement) {
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
    for (const name of this.stale) {
      const view = this.views[name];
      if (view.width < 2 || view.height < 2) continue;
      const bottom = this.canvasSize.height - view.y - view.height;
      this.renderer.setViewport(view.x, bottom, view.width, view.height);
      this.renderer.setScissor(view.x, bottom, view.width, view.height);
      this.renderer.setScissorTest(true);
      this.renderer.clear();
      if (name === 'sheet') this.sheet.draw(this.renderer, view, this.canvasSize.height);
      else this.stand.draw(this.renderer, view);
    }
    this.stale.clear();
    this.lastFrameMs = performance.now() - started;
  }

  /** Frees the graphics card; a page holds some 16 contexts at most. */
  stop(): void {
    cancelAnimationFrame(this.frame);
    this.mask.dispose();
    this.colour.dispose();
    this.sourceColour.dispose();
    this.stand.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }
}

/** Neutral mid-grey around both views, so that the chrome does not tint the judgement of edges. */
const SURROUND = 0x77797a;

function nowhere(): Viewport {
  return { x: 0, y: 0, width: 0, height: 0 };
}
