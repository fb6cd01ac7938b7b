import {
  cardLine,
  cardOf,
  LINE_PLACES,
  LINE_REACH,
  lineLength,
  ONE_CARD,
  setCards,
  type GroundPlace,
  type PieceDoc,
} from '@lithe-sieve/core';
import simplify from 'simplify-js';
import { useNoticesStore } from '../stores/notices.store';
import { usePiece } from '../stores/open-piece/open-piece';

/** Of the length of a line that was drawn by hand: what lies nearer to it than this is no place of its own. */
const CLOSE = 0.01;
/** Metres, as documents keep places of the ground. */
const DIGITS = 4;

/** Changes of the line that cards stand along. */
export function useLineActions() {
  const piece = usePiece();
  const notices = useNoticesStore();

  /** Null where cards stand along none. */
  const of = (doc: PieceDoc, size: { width: number; height: number }, cardWidth: number) =>
    cardLine({ ...cardOf(doc), cardWidth }, size);

  function preview(line: readonly GroundPlace[]): void {
    piece.preview((doc) => ({ ...doc, set: { ...(doc.set ?? ONE_CARD), line: line.map(within) } }));
  }

  function set(line: readonly GroundPlace[], what: string): void {
    preview(line);
    piece.finish(`Line of the cards: ${what}`);
  }

  function previewDrawn(drawn: readonly GroundPlace[]): void {
    const line = fewer(drawn);
    if (line.length >= LINE_PLACES.min) preview(line);
  }

  function setDrawn(drawn: readonly GroundPlace[]): void {
    const line = fewer(drawn);
    if (line.length >= LINE_PLACES.min) return set(line, 'drawn');
    piece.abandon();
    notices.tell({
      id: 'line of cards',
      text: 'That was no line: it stays as it was.',
      remedy: 'Drag over the ground of the Stand, from one end of the line to the other.',
      bad: false,
    });
  }

  /** @param cards - As wide as they are. */
  function fill(line: readonly GroundPlace[], cardWidth: number): void {
    const { min, max } = setCards('along a line');
    const cards = Math.min(max, Math.max(min, Math.round(lineLength(line) / cardWidth)));
    piece.preview((doc) => ({ ...doc, set: { ...(doc.set ?? ONE_CARD), cards } }));
    piece.finish(`Cards: ${cards}`);
  }

  /** Metres that a press of an arrow key moves a place by. */
  const step = (line: readonly GroundPlace[]) => lineLength(line) / 50;

  /** With one after the place `k`; after the last, the line goes on as it ends. */
  function withMore(line: readonly GroundPlace[], k: number): GroundPlace[] {
    const [p, q] = k + 1 < line.length ? [line[k], line[k + 1]] : [line[k - 1], line[k]];
    const share = k + 1 < line.length ? 0.5 : 1.5;
    return line.toSpliced(k + 1, 0, [p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])]);
  }

  return { of, preview, set, previewDrawn, setDrawn, fill, step, withMore, abandon: () => piece.abandon() };
}

const within = (at: GroundPlace): GroundPlace =>
  at.map((v) => Number(Math.min(LINE_REACH, Math.max(-LINE_REACH, v)).toFixed(DIGITS))) as GroundPlace;

/** Of the places of a drag those that tell its line, no more than a document keeps. */
function fewer(drawn: readonly GroundPlace[]): GroundPlace[] {
  const all = drawn.map(([x, y]) => ({ x, y }));
  const length = all.reduce((sum, p, i) => (i === 0 ? 0 : sum + Math.hypot(p.x - all[i - 1].x, p.y - all[i - 1].y)), 0);
  if (length === 0) return [];
  for (let tolerance = CLOSE * length; ; tolerance *= 1.5) {
    const kept = simplify(all, tolerance, true);
    if (kept.length <= LINE_PLACES.max / 2) return kept.map(({ x, y }) => [x, y]);
  }
}
