import { toPlainError } from '../errors.ts';
import { isPicture, isScene, isTexture, packedIn } from '../handoff/file-plan.ts';
import type { HandOffFile } from '../handoff/profile.ts';
import { finishedMasks } from '../handoff/texture-levels.ts';
import { targetOf } from '../handoff/target-of.ts';
import type { PackTools } from '../handoff/file-format.ts';
import { thresholdByte } from '../math/threshold.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import { readName } from '../piece/file-roles.ts';
import type { RunState } from '../raster/run-state.ts';
import { afar, judge, refusedBy, type BenchLook } from './judge.ts';
import type { Received, ReceivedFile, ReceiveTools, Verdict } from './receiver.ts';
import { RECEIVERS } from './rules.ts';

/** What each simulated importer that has something to read makes of the files, those of the profile first. */
export async function receiveHandOff(
  doc: PieceDoc,
  files: readonly HandOffFile[],
  bench: BenchLook,
  tools: ReceiveTools & Pick<PackTools, 'progress'>,
): Promise<Verdict[]> {
  const received = receivedOf(doc, files);
  const own = { decode: remembered((bytes, name) => tools.decode(bytes, name)) };
  const receivers = RECEIVERS.filter((r) => r.isMeant(received) || r.applies(received));
  const verdicts: Verdict[] = [];
  for (const [i, receiver] of receivers.entries()) {
    tools.progress?.(i / receivers.length, `As a target: ${receiver.label}`);
    const meant = receiver.isMeant(received);
    try {
      verdicts.push(judge(receiver, meant, await receiver.reads(received, own), bench));
    } catch (error) {
      verdicts.push(refusedBy(receiver, meant, toPlainError(error).message));
    }
  }
  return verdicts.sort((a, b) => Number(b.meant) - Number(a.meant));
}

/** Colour and mask are read once for all; more is not kept, since each is as large as the whole piece. */
const MOST_REMEMBERED = 2;

function remembered(decode: ReceiveTools['decode']): ReceiveTools['decode'] {
  const last = new Map<string, ReturnType<ReceiveTools['decode']>>();
  return (bytes, name) => {
    const key = `${name} ${bytes.byteOffset} ${bytes.length}`;
    const read = last.get(key) ?? decode(bytes, name);
    last.delete(key);
    last.set(key, read);
    for (const oldest of [...last.keys()].slice(0, -MOST_REMEMBERED)) last.delete(oldest);
    return read;
  };
}

/** @param state - Finished. */
export function benchLook(doc: PieceDoc, state: RunState, sourceOf: PackTools['sourceOf']): BenchLook {
  const { mode, cutoff, opacity } = doc.material;
  const masks = finishedMasks(doc, state.mask, sourceOf);
  const threshold = mode === 'mask' ? thresholdByte(cutoff, opacity) : mode === 'blend' ? 1 : 0;
  const { colour, maps } = state;
  const picture = afar(colour, masks, threshold, mode);
  return { colour, masks, threshold, mode, normals: maps.get('normal') ?? null, picture };
}

/** @param files - As they were read from where they were written. */
export function receivedOf(doc: PieceDoc, files: readonly HandOffFile[]): Received {
  const { levels, material, handOff } = doc;
  return {
    files: files.map(({ name, bytes, plan }) => ({
      ...{ name, bytes, slot: plan.slot, as: placeOf(plan, files) },
      ...(isPicture(plan) && plan.divisor ? { isField: true } : {}),
    })),
    material,
    target: targetOf(doc),
    green: handOff.green,
    makes: {
      filter: levels.madeBy === 'target' ? levels.averages : 'box',
      wrapAcross: levels.wrapAcross,
      wrapDown: levels.wrapDown,
    },
  };
}

/** Which slot of a target an artist puts a file into, by what it is called. */
function placeOf(plan: HandOffFile['plan'], files: readonly HandOffFile[]): ReceivedFile['as'] {
  if (isScene(plan)) return 'scene';
  if (!isPicture(plan) && !isTexture(plan)) return 'other';
  if (plan.holds === 'packed') {
    const { role } = readName(`x_${plan.slot}`);
    if (role === 'colour' || role === 'mask' || role === 'normal') return role;
    const first = files.find((f) => f.plan.holds === 'packed' && packedIn(f.plan)?.as !== 'grey');
    const called = files.some((f) => readName(`x_${f.plan.slot}`).role === 'colour');
    return !called && first?.plan === plan ? 'colour' : 'other';
  }
  if (plan.holds === 'colour' || plan.holds === 'colour and mask') return 'colour';
  if (plan.holds === 'mask') return 'mask';
  return plan.holds === 'normal' ? 'normal' : 'other';
}
