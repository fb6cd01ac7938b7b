import {
  boundsOf,
  boxOfChange,
  colourMips,
  mapKind,
  meshSurface,
  type Box,
  type Change,
  type MapName,
  type Picture,
  type Raster,
  type Samples,
  type SurfaceMesh,
} from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Viewport } from './poses';
import type { FromDrawing, Scenery, ViewName } from './messages';
import { SCENERY_DEFAULTS } from './scenery-defaults';
import { SheetView } from './sheet-view';
import { StandView } from './stand-view';
import { LevelTexture } from './textures';

/**
 * One canvas under both views, so that each texture is uploaded once. Views are drawn when something changed, never in
 * an idle loop; a view that did not change keeps its pixels. Runs in a worker: where graphics are computed in software
 * a frame takes a tenth of a second, and the page must not wait for it.
 */
export class Drawing {
  private readonly sheet = new SheetView();
  private readonly stand = new StandView();
  private readonly renderer: THREE.WebGLRenderer;
  private readonly maxSide: number;
  private readonly maps = new Map<MapName, LevelTexture>();
  private readonly source: LevelTexture;
  /** The mask's levels as a target has them. */
  private readonly clip: LevelTexture;
  /** Views that are to be drawn, and the part of the picture that is all that changed there; null: draw all of it. */
  private readonly stale = new Map<ViewName, Box | null>();
  private scenery: Scenery | null = null;
  private laidOut = '';
  private frame = 0;
  private lost = false;
  /** The turn that the mask answers. */
  private turn = 0;
  /** Which piece after another this is. */
  private opening = 0;
  /** What the Stand cost when it was drawn last, and when that was. */
  private standMs = Infinity;
  private standDrawnAt = -Infinity;
  /** Whether it shows the piece: its first picture comes right after the Sheet's. */
  private standSeen = false;
  /** It has waited long enough, even where the Sheet goes on changing. */
  private standDue = false;
  private standTimer: ReturnType<typeof setTimeout> | undefined;
  /** What changed on the Stand while it waits. */
  private standPart: Box | null | undefined;

  /** @throws Error where there is no WebGL 2. */
  constructor(
    canvas: OffscreenCanvas,
    private readonly tell: (message: FromDrawing) => void,
  ) {
    canvas.addEventListener('webglcontextlost', (event) => {
      event.stopImmediatePropagation(); // three would ask for the context to be restored, see Stage.startAgain
      this.lost = true;
      tell({ type: 'lost' });
    });
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, alpha: false, preserveDrawingBuffer: true });
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.autoClear = false;
    const { maxTextureSize } = this.renderer.capabilities;
    this.maxSide = maxTextureSize;
    this.source = new LevelTexture(mapKind('colour'), maxTextureSize);
    this.clip = new LevelTexture(mapKind('mask'), maxTextureSize);
    this.warm();
    tell({ type: 'ready', maxSide: maxTextureSize });
  }

  show(scenery: Scenery, stale: ViewName[]): void {
    this.scenery = scenery;
    this.invalidate(...stale);
  }

  /** @param levels - Level 0 alone while a stroke is drawn: the Stand follows when the smaller ones are there. */
  setMap(map: MapName, levels: readonly Raster<Samples>[], change: Change, turn: number | null): void {
    if (turn !== null) this.turn = turn;
    if (change === 'whole') {
      this.textureOf(map).set(levels);
      return this.bind();
    }
    this.textureOf(map).patch(this.renderer, levels, change);
    const part = boxOfChange(change);
    if (!part) return;
    this.invalidatePart('sheet', part);
    if (levels.length === 1) return;
    this.renderer.shadowMap.needsUpdate = true;
    this.invalidatePart('stand', part);
  }

  /** Maps that the result no longer has. */
  dropMaps(names: readonly MapName[]): void {
    for (const name of names) this.maps.get(name)?.dispose();
    this.bind();
  }

  setClip(levels: readonly Raster<Samples>[] | null): void {
    if (!levels && !this.clip.value) return;
    if (levels) this.clip.set(levels);
    else this.clip.dispose();
    this.bind();
  }

  setSurface(mesh: SurfaceMesh): void {
    this.stand.setSurface(meshSurface(mesh));
    this.renderer.shadowMap.needsUpdate = true;
    this.invalidate('stand');
  }

  setSource(picture: Picture | null): void {
    if (picture) this.source.set([picture, ...colourMips(picture)]);
    else this.source.dispose();
    this.bind();
  }

  /** @param opening - Of what comes after. */
  forget(opening = this.opening): void {
    this.opening = opening;
    for (const texture of [...this.maps.values(), this.source, this.clip]) texture.dispose();
    clearTimeout(this.standTimer);
    this.standSeen = false;
    this.standDue = false;
    this.bind();
  }

  private textureOf(map: MapName): LevelTexture {
    let texture = this.maps.get(map);
    if (!texture) this.maps.set(map, (texture = new LevelTexture(mapKind(map), this.maxSide)));
    return texture;
  }

  private bind(): void {
    const mask = this.clip.value ?? this.textureOf('mask').value;
    this.sheet.setTextures(this.source.value, (map) => this.maps.get(map)?.value ?? null, mask);
    this.stand.setTextures(this.textureOf('colour').value, mask, (map) => this.maps.get(map)?.value ?? null);
    this.renderer.shadowMap.needsUpdate = true;
    this.invalidate('sheet', 'stand');
  }

  private invalidate(...names: ViewName[]): void {
    for (const name of names) this.invalidatePart(name, null);
  }

  private invalidatePart(name: ViewName, part: Box | null): void {
    this.stale.set(name, together(this.stale.get(name), part));
    if (this.scenery && !this.lost) this.frame ||= requestAnimationFrame(() => this.draw(this.scenery!));
  }

  /** The Sheet goes first; where graphics are slow the Stand follows, and a few times a second while both change. */
  private draw(scenery: Scenery): void {
    const started = performance.now();
    this.frame = 0;
    if (this.lost) return;
    this.layOut(scenery);
    const both = this.hasPicture && this.stale.has('sheet') && this.stale.has('stand');
    const standWaits = both && !this.standDue && (!this.standSeen || this.standMs > SLOW_MS);
    const sheetDrawn = this.stale.has('sheet') && this.drawView('sheet', scenery);
    const standDrawn = this.stale.has('stand') && !standWaits && this.drawStand(scenery);
    if (standWaits) this.drawStandLater();
    this.stale.clear();
    if (!sheetDrawn && !standDrawn) return;
    this.waitForGraphics();
    this.tell({
      type: 'drawn',
      ms: performance.now() - started,
      turn: this.turn,
      opening: this.opening,
      sheet: sheetDrawn,
      stand: standDrawn,
    });
  }

  /** Once changes pause; while they go on, as often as leaves most of the time to what computes them. */
  private drawStandLater(): void {
    const known = this.standSeen && this.standMs < Infinity;
    const due = known ? this.standDrawnAt + STAND_SHARE * this.standMs - performance.now() : 0;
    this.standPart = together(this.standPart, this.stale.get('stand') ?? null);
    clearTimeout(this.standTimer);
    this.standTimer = setTimeout(
      () => {
        this.standTimer = undefined;
        this.standDue = true;
        this.invalidatePart('stand', this.standPart ?? null);
        this.standPart = undefined;
      },
      Math.max(0, Math.min(due, STAND_PAUSE_MS)),
    );
  }

  private drawStand(scenery: Scenery): boolean {
    this.standDue = false;
    this.waitForGraphics();
    const started = performance.now();
    if (!this.drawView('stand', scenery)) return false;
    this.standSeen = true;
    this.waitForGraphics();
    this.standDrawnAt = performance.now();
    this.standMs = this.standDrawnAt - started;
    return true;
  }

  /** Reading one pixel back is the one wait that every driver keeps; it shows what a view costs. */
  private waitForGraphics(): void {
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
  }

  private layOut({ canvas, pixelRatio, views }: Scenery): void {
    const wanted = JSON.stringify([canvas, pixelRatio, views]);
    if (wanted === this.laidOut) return;
    this.laidOut = wanted;
    this.renderer.setPixelRatio(pixelRatio);
    this.renderer.setSize(canvas.width, canvas.height, false);
    this.renderer.setScissorTest(false);
    this.renderer.setClearColor(SURROUND);
    this.renderer.clear();
    this.stale.set('sheet', null).set('stand', null);
  }

  private get hasPicture(): boolean {
    return Boolean(this.textureOf('mask').value && this.textureOf('colour').value);
  }

  private drawView(name: ViewName, scenery: Scenery): boolean {
    const view = scenery.views[name];
    if (view.width < 2 || view.height < 2) return false;
    const part = this.stale.get(name);
    const whose = name === 'sheet' ? this.sheet : this.stand;
    const shown = part ? whose.seen(part, scenery) : { x: 0, y: 0, width: view.width, height: view.height };
    const place = ({ x, y, width, height }: Viewport) => {
      // on whole pixels: three rounds these here, but cuts them off when a shadow was cast in between
      const on = (v: number) => (Math.round(v * scenery.pixelRatio) + 0.01) / scenery.pixelRatio;
      return [on(x), on(scenery.canvas.height - y - height), on(width), on(height)] as const;
    };
    this.renderer.setViewport(...place(view));
    this.renderer.setScissor(...place({ ...shown, x: view.x + shown.x, y: view.y + shown.y }));
    this.renderer.setScissorTest(true);
    this.renderer.clear();
    if (!this.hasPicture) return false; // of the piece before nothing is left
    if (name === 'sheet') this.sheet.draw(this.renderer, scenery);
    else {
      if (this.stand.prepare(scenery)) this.renderer.shadowMap.needsUpdate = true;
      this.stand.draw(this.renderer);
    }
    return true;
  }

  /** Compiles every shader on a picture of one texel: the first real one shows at once. */
  private warm(): void {
    const texel = { width: 1, height: 1, data: new Uint8Array(4) };
    this.textureOf('mask').set([{ ...texel, channels: 1, data: new Uint8Array(1) }]);
    this.textureOf('colour').set([{ ...texel, channels: 4 }]);
    this.bind();
    this.standDue = true;
    this.draw(WARMING);
    this.standMs = Infinity; // of a real picture nothing is known yet
    this.forget();
  }
}

/** @param before - undefined: nothing yet; null: all of it. */
function together(before: Box | null | undefined, part: Box | null): Box | null {
  if (before === undefined) return part;
  return before && part ? boundsOf([before, part]) : null;
}

const SLOW_MS = 40;
/** After the last change. */
const STAND_PAUSE_MS = 150;
/** Times as long as the Stand takes there are between its pictures. */
const STAND_SHARE = 4;

/** Neutral mid-grey around both views, so that the chrome does not tint the judgement of edges. */
const SURROUND = 0x77797a;

const WARMING: Scenery = {
  canvas: { width: 64, height: 32 },
  pixelRatio: 1,
  views: { sheet: { x: 0, y: 0, width: 32, height: 32 }, stand: { x: 32, y: 0, width: 32, height: 32 } },
  sheet: { centre: { x: 0.5, y: 0.5 }, zoom: 1, picture: { width: 1, height: 1 } },
  stand: { azimuth: 0, elevation: 0, distance: 2, middle: [0, 0.5, 0] },
  ...SCENERY_DEFAULTS,
};
