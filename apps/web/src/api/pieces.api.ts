import {
  editResultSchema,
  pieceRefSchema,
  pieceSchema,
  pieceSummariesSchema,
  strokesSchema,
  type Edit,
  type Piece,
  type PieceSummary,
} from '@lithe-sieve/contract';
import type { PieceDoc, Stroke } from '@lithe-sieve/core';
import { request, requestJson } from './http';

export const listPieces = (): Promise<PieceSummary[]> => requestJson('/pieces', pieceSummariesSchema);

export const openPiece = (id: string): Promise<Piece> => requestJson(`/pieces/${id}`, pieceSchema);

export const createPiece = (name: string, sources: { sha256: string; fileName: string }[]): Promise<{ id: string }> =>
  requestJson('/pieces', pieceRefSchema, { method: 'POST', body: { name, sources } });

/** All that was done by hand in a piece, what was undone too. */
export const fetchStrokes = (id: string): Promise<Stroke[]> => requestJson(`/pieces/${id}/strokes`, strokesSchema);

export const copyPiece = (doc: PieceDoc): Promise<{ id: string }> =>
  requestJson('/pieces/copies', pieceRefSchema, { method: 'POST', body: { doc } });

export const sendEdit = (id: string, edit: Edit): Promise<{ revision: number; position: number }> =>
  requestJson(`/pieces/${id}/edits`, editResultSchema, { method: 'POST', body: edit });

export const deletePiece = async (id: string): Promise<void> => {
  await request(`/pieces/${id}`, { method: 'DELETE' });
};

export const restorePiece = async (id: string): Promise<void> => {
  await request(`/pieces/${id}/restore`, { method: 'POST' });
};
