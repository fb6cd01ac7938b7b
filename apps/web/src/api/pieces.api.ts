import {
  FULL_SIDES_HEADER,
  editResultSchema,
  pieceRefSchema,
  deletedPieceSchema,
  pieceSchema,
  pieceListSchema,
  strokeSchema,
  z,
  type CopyPiece,
  type Edit,
  type FullSize,
  type Piece,
  type PieceList,
} from '@lithe-sieve/contract';
import { isHandStep, type SourcePlace, type SourceRole, type Stroke } from '@lithe-sieve/core';
import { request, requestJson } from './http';

/** What a piece shows before anything is computed: colour and alpha, at view size, as a PNG. */
export interface FirstView {
  png: Uint8Array;
  /** Texels of the full size. */
  width: number;
  height: number;
}

/** Null where the server keeps none of the newest revision. */
export async function fetchFirstView(id: string): Promise<FirstView | null> {
  const response = await request(`/pieces/${id}/view.png`);
  const sides = response.headers.get(FULL_SIDES_HEADER)?.split(' ').map(Number);
  if (response.status !== 200 || sides?.length !== 2 || !sides.every(Number.isInteger)) return null;
  return { png: new Uint8Array(await response.arrayBuffer()), width: sides[0], height: sides[1] };
}

/** A stored file as a source of a new piece. */
export interface NewSource {
  sha256: string;
  fileName: string;
  role?: SourceRole;
  place?: SourcePlace;
}

/** A change that is not answered by then is sent again; the server takes it once. */
const EDIT_PATIENCE_MS = 20_000;

/** A part of the Stock, newest change first. */
export const listPieces = (from: number, count: number, search = ''): Promise<PieceList> =>
  requestJson(
    `/pieces?${new URLSearchParams({ from: `${from}`, count: `${count}`, search }).toString()}`,
    pieceListSchema,
  );

/** The newest picture of a piece. */
export const fetchPiecePicture = async (id: string): Promise<Blob> =>
  (await request(`/pieces/${id}/picture.png`)).blob();

export const openPiece = (id: string): Promise<Piece> => requestJson(`/pieces/${id}`, pieceSchema);

/** A piece with everything that was ever done by hand in it: strokes that were undone are in its history alone. */
export interface WholePiece {
  piece: Piece;
  strokes: Stroke[];
}

export async function openWhole(id: string): Promise<WholePiece> {
  const piece = await openPiece(id);
  const byHand = piece.doc.run.some(isHandStep) || JSON.stringify(piece.history).includes('"strokes"');
  return { piece, strokes: byHand ? await fetchStrokes(id) : [] };
}

export const createPiece = (name: string, sources: NewSource[]): Promise<{ id: string }> =>
  requestJson('/pieces', pieceRefSchema, { method: 'POST', body: { name, sources } });

/** All that was done by hand in a piece, what was undone too; a stroke that cannot be read is left out. */
export const fetchStrokes = async (id: string): Promise<Stroke[]> => {
  const all = await requestJson(`/pieces/${id}/strokes`, z.array(z.unknown()));
  return all.flatMap((stroke) => {
    const { success, data } = strokeSchema.safeParse(stroke);
    return success ? [data] : [];
  });
};

export const copyPiece = (body: CopyPiece): Promise<{ id: string }> =>
  requestJson('/pieces/copies', pieceRefSchema, { method: 'POST', body });

export const sendEdit = (id: string, edit: Edit): Promise<{ revision: number; position: number }> =>
  requestJson(`/pieces/${id}/edits`, editResultSchema, { method: 'POST', body: edit, patienceMs: EDIT_PATIENCE_MS });

/** @returns names of the pieces that hold a copy of it. */
export const deletePiece = async (id: string): Promise<string[]> =>
  (await requestJson(`/pieces/${id}`, deletedPieceSchema, { method: 'DELETE' })).usedBy;

export const restorePiece = async (id: string): Promise<void> => {
  await request(`/pieces/${id}/restore`, { method: 'POST' });
};

/** Everything that the studio holds of a piece, as a zip: of one that cannot be opened too. */
export const salvageAddress = (id: string): string => `/api/pieces/${id}/salvage.zip`;

/** What the full size of a piece came to here. */
export const sendFullSize = async (id: string, body: FullSize): Promise<void> => {
  await request(`/pieces/${id}/full-size`, { method: 'PUT', body });
};
