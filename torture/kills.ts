import { noisePng } from './pictures.ts';
import { Studio } from './studio.ts';
import { Chance, times, type Extent, type Trial } from './trial.ts';

/** What was answered, of one piece. */
interface Known {
  id: string;
  revision: number;
  cutoff: number;
  /** Sent, and not answered: it may be there or not. */
  open: number | null;
}

/** The server is killed (-9) in the middle of changes, uploads and hand-offs; what was answered must be there after. */
export async function kills(extent: Extent): Promise<Trial> {
  const trial: Trial = {
    what: 'kill -9 while changes and uploads are under way',
    tries: 0,
    lost: 0,
    hangs: 0,
    errors: 0,
    seen: '',
  };
  const chance = new Chance(extent.seed);
  const studio = new Studio();
  const pieces: Known[] = [];
  const stored = new Map<string, Buffer>();
  let answered = 0;
  for (let round = 0; round < times(1000, extent); round++) {
    if (!(await studio.start())) {
      trial.lost++;
      trial.seen = `does not start: ${studio.printed.slice(-200)}`;
      break;
    }
    await verify(studio, pieces, stored, trial, round);
    let running = true;
    const load = async () => {
      while (running) {
        if (chance.next() < 0.2 || pieces.length === 0) {
          const bytes = await noisePng(chance, 16 + chance.below(48));
          const { status, json, hung } = await studio.bringIn(bytes);
          note(status, hung, running, trial);
          if (status !== 200) continue;
          answered++;
          stored.set(json.sha256 as string, bytes);
          const id = await studio.newPiece(`Piece ${pieces.length}`, json.sha256 as string);
          if (id && pieces.length < 40) pieces.push({ id, revision: 1, cutoff: 0.5, open: null });
        } else {
          const piece = chance.of(pieces);
          if (piece.open !== null) continue;
          const to = chance.below(1000) / 1000;
          if (to === piece.cutoff) continue;
          piece.open = to;
          const edit = `edit-${round}-${chance.below(1e9)}`;
          const { status, json, hung } = await studio.cutoff(piece.id, piece.revision, piece.cutoff, to, edit);
          note(status, hung, running, trial);
          if (status !== 200) continue;
          answered++;
          Object.assign(piece, { revision: json.revision as number, cutoff: to, open: null });
        }
      }
    };
    const loads = [load(), load(), load()];
    await new Promise((resolve) => setTimeout(resolve, 20 + chance.below(180)));
    running = false;
    await studio.kill();
    await Promise.all(loads);
    trial.tries++;
  }
  if (await studio.start()) await verify(studio, pieces, stored, trial, -1);
  await studio.stop();
  studio.remove();
  trial.seen ||= `${answered} answered changes, ${stored.size} files`;
  return trial;
}

function note(status: number, hung: boolean, running: boolean, trial: Trial): void {
  if (hung) trial.hangs++;
  if (status >= 500 && running) trial.errors++;
}

/** Every piece each time; of the files a few, all at the end. */
async function verify(studio: Studio, pieces: Known[], stored: Map<string, Buffer>, trial: Trial, round: number) {
  for (const piece of pieces) {
    const { status, json } = await studio.get(`/pieces/${piece.id}`);
    if (status !== 200) {
      trial.lost++;
      continue;
    }
    const cutoff = json.doc.material.cutoff as number;
    const kept = json.revision === piece.revision && cutoff === piece.cutoff;
    const further = piece.open !== null && json.revision === piece.revision + 1 && cutoff === piece.open;
    if (!kept && !further) trial.lost++;
    Object.assign(piece, { revision: json.revision as number, cutoff, open: null });
  }
  let at = 0;
  for (const [sha256, bytes] of stored) {
    if (round >= 0 && ++at % 17 !== round % 17) continue;
    const answer = await studio.get(`/sources/${sha256}/bytes`);
    if (answer.status !== 200 || !answer.bytes.equals(bytes)) trial.lost++;
  }
}
