import { EntitySchema } from 'typeorm';

/** Something done by hand; never changed. */
export interface StrokeRow {
  id: string;
  /** The piece that it was drawn in. */
  pieceId: string;
  /** JSON of core's Stroke. */
  data: string;
}
export const StrokeEntity = new EntitySchema<StrokeRow>({
  name: 'stroke',
  columns: {
    id: { type: 'text', primary: true },
    pieceId: { type: 'text' },
    data: { type: 'text' },
  },
  indices: [{ name: 'stroke_of_piece', columns: ['pieceId'] }],
});
