import { outputSchema, type Output } from '@lithe-sieve/contract';
import { request, requestJson } from './http';

export const outputOf = (pieceId: string): Promise<Output | null> =>
  requestJson(`/pieces/${pieceId}/output`, outputSchema.nullable());

export const setOutput = (pieceId: string, folder: string): Promise<Output> =>
  requestJson(`/pieces/${pieceId}/output`, outputSchema, { method: 'PUT', body: { folder } });

export const endOutput = async (pieceId: string): Promise<void> =>
  void (await request(`/pieces/${pieceId}/output`, { method: 'DELETE' }));
