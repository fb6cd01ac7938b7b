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
    case 'map':
      return drawing?.setMap(data.map, data.levels, data.change, data.turn);
    case 'drop':
      return drawing?.dropMaps(data.maps);
    case 'clip':
      return drawing?.setClip(data.levels);
    case 'surface':
      return drawing?.setSurface(data.mesh);
    case 'source':
      return drawing?.setSource(data.picture);
    case 'forget':
      return drawing?.forget(data.opening);
  }
});
