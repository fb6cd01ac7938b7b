import { FlatPainter, type FlatView } from './flat-view';
import { LitPainter, type LitView } from './lit/lit-view';
import type { ViewPainter } from './view-painter';

/** What a canvas can show. A kind of view is its file and a line in each of these. */
export type DrawnView = FlatView | LitView;
type Kind = DrawnView['kind'];

const PAINTERS: { [K in Kind]: { make(): ViewPainter<Extract<DrawnView, { kind: K }>>; mayWait: boolean } } = {
  flat: { make: () => new FlatPainter(), mayWait: false },
  // where graphics are slow it follows the flat ones
  lit: { make: () => new LitPainter(), mayWait: true },
};

export type AnyPainter = ViewPainter<DrawnView>;

export function makePainter(kind: Kind): AnyPainter {
  return PAINTERS[kind].make();
}

export function mayWait({ kind }: DrawnView): boolean {
  return PAINTERS[kind].mayWait;
}
