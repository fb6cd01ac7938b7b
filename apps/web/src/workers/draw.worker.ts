import { Drawing } from '../drawing/drawing';
import type { FromDrawing, ToDrawing } from '../drawing/messages';
import { beat } from './beat';

const tell = (message: FromDrawing) => postMessage(message);
let drawing: Drawing | null = null;

addEventListener('message', ({ data }: MessageEvent<ToDrawing>) => {
  switch (data.type) {
    case 'start':
      beat(data.alive);
      try {
        drawing = new Drawing(data.canvas, tell);
      } catch {
        tell({ type: 'no-graphics' });
      }
      return;
    case 'show':
      return drawing?.show(data.scenery, data.stale);
    case 'texture':
      return drawing?.setTexture(data);
    case 'drop':
      return drawing?.dropTextures(data.piece, data.places);
    case 'surface':
      return drawing?.setSurface(data.piece, data);
    case 'material':
      return drawing?.setMaterial(data.piece, data.material);
    case 'behind':
      return drawing?.setBehind(data.picture);
    case 'far':
      return drawing?.far(data);
    case 'forget':
      return drawing?.forget(data.piece);
  }
});
