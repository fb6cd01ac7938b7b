import { boxOfChange } from '@lithe-sieve/core';
import * as THREE from 'three';
import { DrawnPiece, type DrawnSurface, type PieceMaterial, type TexturePlace } from './drawn-piece';
import { HeldTextures } from './held-textures';
import type { FromDrawing, Refined, Scenery, TextureSent, ViewDrawn } from './messages';
import { Pace } from './pace';
import type { Viewport } from './poses';
import { Rest } from './rest';
import { together, type Stale } from './stale';
import type { BehindPicture, FarPicture } from './view-painter';
import { makePainter, mayWait, type AnyPainter, type DrawnView } from './views';
import { WARMING } from './warming';

/**
 * One canvas under all views, so that each texture is uploaded once. Views are drawn when something changed, never in an
 * idle loop; a view that did not change keeps its pixels. Runs in a worker: where graphics are computed in software a
 * frame takes a tenth of a second, and the page must not wait for it.
 */
export class Drawing {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly textures: HeldTextures;
  private readonly pieces = new Map<string, DrawnPiece>();
  /** What draws each view, and when. */
  private readonly painters = new Map<string, { kind: DrawnView['kind']; painter: AnyPainter; pace: Pace }>();
  /** Of views that are gone, for the next of their kind: compiled shaders stay with them. */
  private readonly spare = new Map<DrawnView['kind'], AnyPainter>();
  /** Views that are to be drawn, and what changed there. */
  private readonly stale = new Map<string, Stale>();
  private scenery: Scenery | null = null;
  private laidOut = '';
  private frame = 0;
  /** What is summed up while nothing changes. */
  private readonly rest = new Rest(() => this.refine());
  private behind: BehindPicture | null = null;
  private lost = false;

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
    this.textures = new HeldTextures(maxTextureSize);
    this.warm();
    tell({ type: 'ready', maxSide: maxTextureSize });
  }

  show(scenery: Scenery, stale: readonly string[]): void {
    this.scenery = scenery;
    this.arrange(scenery);
    for (const id of stale) this.invalidate(id, null);
  }

  setTexture({ piece: key, place, key: texture, levels, change, turn }: TextureSent): void {
    const piece = this.pieceOf(key);
    if (turn !== null) piece.turn = turn;
    if (change === 'whole') {
      if (piece.set(place, texture, levels)) this.invalidatePiece(key);
      return;
    }
    piece.patch(place, this.renderer, levels, change);
    const box = boxOfChange(change);
    if (!box) return;
    const part = { box, picture: { width: levels[0].width, height: levels[0].height } };
    // what may wait waits for the smaller levels, too
    for (const view of this.viewsOf(key)) if (levels.length > 1 || !mayWait(view)) this.invalidate(view.id, part);
  }

  dropTextures(key: string, places: readonly TexturePlace[]): void {
    if (this.pieces.get(key)?.drop(places)) this.invalidatePiece(key);
  }

  setSurface(key: string, surface: DrawnSurface): void {
    this.pieceOf(key).setSurface(surface);
    for (const view of this.viewsOf(key)) if (view.kind !== 'flat') this.invalidate(view.id, null);
  }

  setMaterial(key: string, material: PieceMaterial): void {
    this.pieceOf(key).material = material;
    this.invalidatePiece(key);
  }

  /** The one picture that there may be behind cards. */
  setBehind(picture: BehindPicture): void {
    this.behind = picture;
    for (const { painter } of this.painters.values()) painter.setBehind?.(picture);
    for (const { id, kind } of this.scenery?.views ?? []) if (kind !== 'flat') this.invalidate(id, null);
  }

  /** Draws nothing that is seen. */
  far({ view, side, turn }: { view: DrawnView; side: number; turn: number }): void {
    const [painter, piece] = [this.painters.get(view.id)?.painter, this.pieces.get(view.piece)];
    let picture: FarPicture | null = null;
    if (
      !this.lost &&
      this.scenery &&
      painter?.far &&
      piece?.hasPicture &&
      view.rect.width > 1 &&
      view.rect.height > 1
    ) {
      this.aimAt(view.rect, { ...view.rect, x: 0, y: 0 }, this.scenery);
      picture = painter.far(this.renderer, view, piece, side);
      this.rest.begin();
    }
    this.tell({ type: 'far', turn, picture });
  }

  forget(key: string): void {
    this.pieces.get(key)?.dispose();
    this.pieces.delete(key);
    for (const view of this.viewsOf(key)) this.painters.get(view.id)?.pace.forget();
    this.invalidatePiece(key);
    this.tell({ type: 'freed', textures: this.textures.count });
  }

  private pieceOf(key: string): DrawnPiece {
    let piece = this.pieces.get(key);
    if (!piece) this.pieces.set(key, (piece = new DrawnPiece(key, this.textures)));
    return piece;
  }

  private viewsOf(piece: string): DrawnView[] {
    return this.scenery?.views.filter((view) => view.piece === piece) ?? [];
  }

  /** Painters for the views there are. */
  private arrange({ views }: Scenery): void {
    const kinds = new Map(views.map(({ id, kind }) => [id, kind]));
    for (const [id, { kind, painter, pace }] of this.painters) {
      if (kinds.get(id) === kind) continue;
      this.painters.delete(id);
      pace.forget();
      if (this.spare.has(kind)) painter.dispose();
      else this.spare.set(kind, painter);
    }
    for (const id of this.stale.keys()) if (!kinds.has(id)) this.stale.delete(id);
    for (const [id, kind] of kinds) {
      if (this.painters.has(id)) continue;
      const painter = this.spare.get(kind) ?? makePainter(kind);
      this.spare.delete(kind);
      this.painters.set(id, { kind, painter, pace: new Pace() });
      if (this.behind) painter.setBehind?.(this.behind);
    }
  }

  private invalidatePiece(key: string): void {
    for (const { id } of this.viewsOf(key)) this.invalidate(id, null);
  }

  private invalidate(id: string, part: Stale): void {
    this.rest.end();
    this.stale.set(id, together(this.stale.get(id), part));
    if (!this.lost) this.frame ||= requestAnimationFrame(() => this.draw());
  }

  /** What cannot wait goes first; where graphics are slow the rest follows, a view a frame, the one drawn longest ago first. */
  private draw(): void {
    const started = performance.now();
    this.frame = 0;
    const { scenery } = this;
    if (this.lost || !scenery) return;
    this.layOut(scenery);
    const stale = scenery.views.filter(({ id }) => this.stale.has(id));
    const first = stale.filter((view) => !mayWait(view));
    const paceOf = ({ id }: DrawnView) => this.painters.get(id)!.pace;
    const then = stale.filter((view) => mayWait(view)).sort((a, b) => paceOf(a).lastDrawn - paceOf(b).lastDrawn);
    const drawn = first.filter((view) => this.drawView(view, scenery));
    const someWentFirst = drawn.length > 0;
    let [isFull, left] = [false, false];
    for (const view of then) {
      const pace = paceOf(view);
      if (isFull) left = true;
      else if (someWentFirst && pace.waits) {
        pace.later(this.stale.get(view.id) ?? null, (part) => this.invalidate(view.id, part));
        this.stale.delete(view.id);
      } else if (this.drawPaced(view, pace, scenery)) {
        drawn.push(view);
        isFull = pace.isSlow;
      }
    }
    if (left) this.frame = requestAnimationFrame(() => this.draw());
    this.rest.begin();
    if (drawn.length === 0) return;
    this.waitForGraphics();
    const views = drawn.map(({ id, piece }): ViewDrawn => ({ id, piece, turn: this.pieceOf(piece).turn }));
    this.tell({ type: 'drawn', ms: performance.now() - started, views });
  }

  private drawPaced(view: DrawnView, pace: Pace, scenery: Scenery): boolean {
    const waited = pace.take();
    if (waited !== undefined) this.stale.set(view.id, together(waited, this.stale.get(view.id) ?? null));
    this.waitForGraphics();
    const started = performance.now();
    if (!this.drawView(view, scenery)) return false;
    this.waitForGraphics();
    pace.drawn(performance.now() - started);
    return true;
  }

  /** Reading one pixel back is the one wait that every driver keeps; it shows what a view costs. */
  private waitForGraphics(): void {
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
  }

  private layOut({ canvas, pixelRatio, views }: Scenery): void {
    const wanted = JSON.stringify([canvas, pixelRatio, views.map(({ id, rect }) => [id, rect])]);
    if (wanted === this.laidOut) return;
    this.laidOut = wanted;
    this.renderer.setPixelRatio(pixelRatio);
    this.renderer.setSize(canvas.width, canvas.height, false);
    this.renderer.setScissorTest(false);
    this.renderer.setClearColor(SURROUND);
    this.renderer.clear();
    for (const { id } of views) this.stale.set(id, null);
  }

  /** @returns false where there is nothing to draw: of the piece before nothing is left. */
  private drawView(view: DrawnView, { canvas, pixelRatio }: Scenery): boolean {
    const { rect, id } = view;
    const part = this.stale.get(id) ?? null;
    this.stale.delete(id);
    if (rect.width < 2 || rect.height < 2) return false;
    const { painter } = this.painters.get(id)!;
    const piece = this.pieces.get(view.piece);
    const shown = part && piece ? painter.seen(part, view, piece) : { ...rect, x: 0, y: 0 };
    this.aimAt(rect, shown, { canvas, pixelRatio });
    this.renderer.clear();
    if (!piece?.hasPicture) return false;
    painter.draw(this.renderer, view, piece, { canvas, pixelRatio });
    return true;
  }

  /** One step of each view that is not as it comes to rest yet. */
  private refine(): boolean {
    const { scenery } = this;
    if (this.lost || !scenery || this.frame || this.stale.size > 0) return false;
    const views = scenery.views.flatMap((view): Refined[] => {
      const [{ painter }, piece] = [this.painters.get(view.id)!, this.pieces.get(view.piece)];
      if (!painter.refine || !piece?.hasPicture || view.rect.width < 2 || view.rect.height < 2) return [];
      this.aimAt(view.rect, { ...view.rect, x: 0, y: 0 }, scenery);
      const summed = painter.refine(this.renderer, view, piece, scenery);
      return summed ? [{ id: view.id, ...summed }] : [];
    });
    if (views.length === 0) return false;
    this.waitForGraphics();
    this.tell({ type: 'refined', views });
    return true;
  }

  /** What is drawn next lies there, and nothing beyond a part of it changes. */
  private aimAt(rect: Viewport, shown: Viewport, { canvas, pixelRatio }: Pick<Scenery, 'canvas' | 'pixelRatio'>): void {
    const place = ({ x, y, width, height }: Viewport) => {
      // on whole pixels: three rounds these here, but cuts them off when a shadow was cast in between
      const on = (v: number) => (Math.round(v * pixelRatio) + 0.01) / pixelRatio;
      return [on(x), on(canvas.height - y - height), on(width), on(height)] as const;
    };
    this.renderer.setViewport(...place(rect));
    this.renderer.setScissor(...place({ ...shown, x: rect.x + shown.x, y: rect.y + shown.y }));
    this.renderer.setScissorTest(true);
  }

  /** Compiles the shader of every kind of view on a picture of one texel: the first real one shows at once. */
  private warm(): void {
    const [mask, colour] = [new Uint8Array(1), new Uint8Array(4)];
    const piece = this.pieceOf(WARMING.views[0].piece);
    piece.set('mask', null, [{ width: 1, height: 1, channels: 1, data: mask }]);
    piece.set('colour', null, [{ width: 1, height: 1, channels: 4, data: colour }]);
    this.arrange(WARMING);
    this.layOut(WARMING);
    for (const view of WARMING.views) this.drawView(view, WARMING);
    this.arrange({ ...WARMING, views: [] });
    piece.dispose();
    this.pieces.clear();
    this.stale.clear();
  }
}

/** Neutral mid-grey around all views, so that the chrome does not tint the judgement of edges. */
const SURROUND = 0x77797a;
