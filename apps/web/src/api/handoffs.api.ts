import { jobSchema, keptHandOffsSchema, type Job, type KeptHandOffs, type StartHandOff } from '@lithe-sieve/contract';
import { request, requestJson } from './http';

export const startHandOff = (pieceId: string, body: StartHandOff): Promise<Job> =>
  requestJson(`/pieces/${pieceId}/hand-offs`, jobSchema, { method: 'POST', body });

export const latestHandOff = (pieceId: string): Promise<Job | null> =>
  requestJson(`/pieces/${pieceId}/hand-offs/latest`, jobSchema.nullable());

export const keptHandOffs = (pieceId: string): Promise<KeptHandOffs> =>
  requestJson(`/pieces/${pieceId}/hand-offs`, keptHandOffsSchema);

export const getJob = (id: string): Promise<Job> => requestJson(`/jobs/${id}`, jobSchema);

export const cancelJob = (id: string): Promise<Job> => requestJson(`/jobs/${id}`, jobSchema, { method: 'DELETE' });

export const zipAddress = (jobId: string): string => `/api/jobs/${jobId}/all.zip`;
export const fileAddress = (jobId: string, index: number): string => `/api/jobs/${jobId}/files/${index}`;
export const receiverPicture = (jobId: string, index: number): string => `/api/jobs/${jobId}/receivers/${index}.png`;
export const receiverView = async (jobId: string, index: number): Promise<Blob> =>
  (await request(`/jobs/${jobId}/receivers/${index}.png`)).blob();
const viewPath = (jobId: string, index: number) => `/jobs/${jobId}/files/${index}/view.png`;
/** What a written file shows, of 2048 texels a side at the most. */
export const fileView = async (jobId: string, index: number): Promise<Blob> =>
  (await request(viewPath(jobId, index))).blob();
export const viewAddress = (jobId: string, index: number): string => `/api${viewPath(jobId, index)}`;

/** The beginning of a file as text. @param most - Bytes. */
export async function fileHead(jobId: string, index: number, most: number): Promise<{ text: string; whole: boolean }> {
  const { body } = await request(`/jobs/${jobId}/files/${index}`);
  const reader = body!.getReader();
  const decoder = new TextDecoder();
  let text = '';
  for (let length = 0; ;) {
    const { done, value } = await reader.read();
    if (done) return { text: text + decoder.decode(), whole: true };
    text += decoder.decode(value.subarray(0, most - length), { stream: true });
    length += value.length;
    if (length <= most) continue;
    await reader.cancel();
    return { text, whole: false };
  }
}
