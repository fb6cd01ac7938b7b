import {
  type CardSurface,
  type Change,
  type ClipDrawing,
  type MapName,
  type Mask,
  type Material,
  type Picture,
  type Raster,
  type Samples,
} from '@lithe-sieve/core';
import { shallowReactive } from 'vue';
import { tellTiming } from '../../engine/timing';
import { watch, type Watched } from '../../engine/watchdog';
import type { Backdrop, FromDrawing, MapLook, Scenery, SheetMode, ToDrawing, ViewName } from '../../drawing/messages';
import type { Viewport } from '../../drawing/poses';
import { SCENERY_DEFAULTS } from '../../drawing/scenery-defaults';
import { SheetPose } from '../../drawing/sheet-pose';
import { StandPose } from '../../drawing/stand-pose';

let kept: Stage | null = null;

/**
 * The one stage of the page. It outlives the Bench: a context costs a second to set up, and going to the Hand-off and
 * back must not.
 */
export function theStage(): Stage {
  return (kept ??= new Stage());
}

/**
 * What the page knows of the two views: where they are looked at from and how. The drawing itself is done by a worker on
 * the same canvas; this sends it what changed, at most once a frame.
 */
export class Stage {
  readonly sheet = new SheetPose();
  readonly stand = new StandPose();
  /** Holds the canvas, which is another one after the graphics were lost. */
  readonly holder = document.createElement('div');
  /** Reactive: the largest side of a texture here, and what keeps the views from being drawn. */
  readonly graphics = shallowReactive({ maxSide: Infinity, fault: null as 'none' | 'lost' | null });
  /** Reactive: whether the views were drawn since the piece was opened. */
  readonly seen = shallowReactive({ sheet: false, stand: false });
  /** Hears of each picture of the Stand, which comes after that of the Sheet. */
  whenStandDrawn: () => void = () => undefined;
  private worker!: Worker;
  private watched!: Watched;
  /** Texels of the largest map. */
  private largest = 0;
  /** What was sent last of each map, the source, the card and the clip: for a worker that takes the place of one. */
  private readonly sent = new Map<
    MapName | 'source' | 'surface' | 'clip',
    ToDrawing & { type: 'map' | 'source' | 'surface' | 'clip' }
  >();
  /** Ids of the maps that are there, where they have one. */
  private readonly ids = new Map<MapName, string>();
  /** How many pieces were shown. */
  private opening = 0;
  private losses: number[] = [];
  private readonly stale = new Set<ViewName>();
  private frame = 0;
  private canvasSize = { width: 0, height: 0 };
  private views: Record<ViewName, Viewport> = { sheet: nowhere(), stand: nowhere() };
  /** How both are looked at. */
  private looked: Pick<Scenery, keyof typeof SCENERY_DEFAULTS> = SCENERY_DEFAULTS;

  constructor() {
    this.holder.className = 'drawing';
    this.holder.dataset['test'] = 'drawing';
    this.startDrawing();
  }

  private startDrawing(): void {
    const worker = new Worker(new URL('../../workers/draw.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<FromDrawing>) => this.hear(data));
    const canvas = document.createElement('canvas');
    canvas.setAttribute('aria-hidden', 'true');
    this.holder.replaceChildren(canvas);
    const given = canvas.transferControlToOffscreen();
    this.watched = watch(
      worker,
      () => this.largest,
      () => this.lose(),
    );
    const { alive } = this.watched;
    worker.postMessage({ type: 'start', canvas: given, alive } satisfies ToDrawing, [given]);
    this.worker = worker;
  }

  /**
   * After the graphics were lost (a driver that was reset, a process that was ended) a new canvas and worker take over.
   * Restoring the context of a canvas that a worker draws on ends the whole page in Chromium 15x.
   */
  private startAgain(): void {
    this.worker.terminate();
    this.watched.stop();
    this.startDrawing();
    for (const message of this.sent.values()) this.send(message);
    this.invalidate('sheet', 'stand');
  }

  private lose(): void {
    this.graphics.fault = 'lost';
    this.losses = [...this.losses.filter((at) => at > performance.now() - LOSS_WINDOW_MS), performance.now()];
    if (this.losses.length <= LOSSES_MENDED) setTimeout(() => this.startAgain(), this.losses.length * 1000);
  }

  private hear(message: FromDrawing): void {
    if (message.type === 'ready') Object.assign(this.graphics, { maxSide: message.maxSide, fault: null });
    else if (message.type === 'drawn') {
      if (message.opening === this.opening) this.note(message);
      tellTiming('frame', message.turn, message.ms);
      if (!message.stand) return;
      tellTiming('stand', message.turn, message.ms);
      this.whenStandDrawn();
    } else if (message.type === 'lost') this.lose();
    else this.graphics.fault = this.losses.length ? 'lost' : 'none';
  }

  private note({ sheet, stand }: { sheet: boolean; stand: boolean }): void {
    if (sheet) this.seen.sheet = true;
    if (stand) this.seen.stand = true;
  }

  private send(message: ToDrawing): void {
    this.worker.postMessage(message);
  }

  /** Places of the views in CSS pixels of the canvas. */
  layOut(width: number, height: number, views: Record<ViewName, Viewport>): void {
    this.canvasSize = { width, height };
    this.views = views;
    this.invalidate('sheet', 'stand');
  }

  /**
   * @param levels - Level 0 first.
   * @param change - Against what was given last.
   * @param turn - The turn that this answers; null where it is none of the engine's.
   */
  setMap(map: MapName, levels: readonly Raster<Samples>[], change: Change = 'whole', turn: number | null = null): void {
    this.ids.delete(map);
    const before = this.sent.get(map);
    const [first] = levels;
    this.largest = Math.max(this.largest, first.width * first.height);
    const same = before?.type === 'map' && before.levels[0].width === first.width;
    const message = { type: 'map' as const, map, levels, change: same ? change : 'whole', turn };
    this.sent.set(map, { ...message, change: 'whole' });
    this.send(message);
  }

  /** The same of a map that is known by an id: one that is there already is not uploaded again. */
  setKnown(map: MapName, levels: readonly Raster<Samples>[], id: string): void {
    if (this.ids.get(map) === id) return;
    this.setMap(map, levels);
    this.ids.set(map, id);
  }

  /** The mip levels that the target has instead of the mask's own; null: it has these. */
  setClip(levels: readonly Mask[] | null): void {
    const message = { type: 'clip' as const, levels };
    this.sent.set('clip', message);
    this.send(message);
  }

  /** A stroke under way wrote into level 0 of a map; its smaller levels follow when it ends. */
  patchMap(map: MapName, level: Raster<Samples>, change: Change): void {
    this.ids.delete(map);
    this.send({ type: 'map', map, levels: [level], change, turn: null });
  }

  /** Forgets every map beside colour and mask that is not among these. */
  keepMaps(names: readonly MapName[]): void {
    const gone = [...this.sent.values()].flatMap((m) => (m.type === 'map' && !names.includes(m.map) ? [m.map] : []));
    const maps = gone.filter((map) => map !== 'mask' && map !== 'colour');
    if (maps.length === 0) return;
    for (const map of maps) {
      this.sent.delete(map);
      this.ids.delete(map);
    }
    this.send({ type: 'drop', maps });
  }

  /** Shows a source on the Sheet instead of the result; null goes back. */
  setSource(picture: Picture | null): void {
    const message = { type: 'source' as const, picture };
    this.sent.set('source', message);
    this.send(message);
  }

  /** @param surface - Its longer side is 1. */
  setSurface(surface: CardSurface): void {
    this.stand.setSurface(surface);
    const message = { type: 'surface' as const, mesh: surface.mesh };
    this.sent.set('surface', message);
    this.send(message);
  }

  /** The material and what the Sheet shows: numbers only, nothing is computed. */
  setLook(
    sheetMode: SheetMode,
    mapLook: MapLook,
    { mode, cutoff, opacity, doubleSided }: Material,
    { by, samples }: ClipDrawing,
    beneath = false,
  ): void {
    const material = { mode, cutoff, opacity, doubleSided };
    this.looked = { ...this.looked, sheetMode, mapLook, beneath, drawn: { by, samples }, material };
    this.invalidate('sheet', 'stand');
  }

  setBackdrop(backdrop: Backdrop): void {
    this.looked = { ...this.looked, backdrop };
    this.invalidate('stand');
  }

  /** See {@link Scenery}. */
  markSoft(marked: boolean): void {
    this.looked = { ...this.looked, softMarked: marked };
    this.invalidate('sheet');
  }

  view(name: ViewName): Viewport {
    return this.views[name];
  }

  get pixelRatio(): number {
    return window.devicePixelRatio;
  }

  /** Redraws these views. */
  invalidate(...names: ViewName[]): void {
    for (const name of names) this.stale.add(name);
    this.frame ||= requestAnimationFrame(() => this.show());
  }

  private show(): void {
    this.frame = 0;
    const scenery: Scenery = {
      canvas: this.canvasSize,
      pixelRatio: this.pixelRatio,
      views: this.views,
      sheet: this.sheet.look,
      stand: this.stand.look,
      ...this.looked,
    };
    this.send({ type: 'show', scenery, stale: [...this.stale] });
    this.stale.clear();
    tellTiming('shown');
  }

  /** Frees the pictures of a piece that was left. */
  forget(): void {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.sent.clear();
    this.ids.clear();
    this.send({ type: 'forget', opening: ++this.opening });
    Object.assign(this.seen, { sheet: false, stand: false });
  }
}

/** Graphics that are lost oftener than this in a minute are not asked for again: a reload may help. */
const LOSSES_MENDED = 3;
const LOSS_WINDOW_MS = 60_000;

function nowhere(): Viewport {
  return { x: 0, y: 0, width: 0, height: 0 };
}
