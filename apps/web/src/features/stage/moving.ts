import { onScopeDispose, watch } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { theStage } from './stage';

/** Radians a second. */
const TURNING = 0.5;
/** Seconds that a walk takes. */
const WALK = 8;

/**
 * What moves by itself while it is asked for: the card turns, sways, or is walked away from. Each frame tells what follows
 * the camera.
 *
 * @param sides - Sides of the card in a metre.
 */
export function useMoving(moved: () => void, sides: () => number): void {
  const bench = useBenchStore();
  let frame = 0;
  let before = 0;
  let [walked, swayed] = [0, 0];
  const asked = () => bench.turning || bench.swaying || bench.walking;
  function step(now: number): void {
    const { stand } = theStage();
    const seconds = before ? Math.min(200, now - before) / 1000 : 0;
    before = now;
    if (bench.turning) stand.turnBy(TURNING * seconds);
    swayed = bench.swaying ? swayed + seconds : 0;
    if (bench.walking) walked += seconds / WALK;
    if (bench.walking && walked < 1) bench.distance = sides() * NEAR * (FAR / NEAR) ** walked;
    else [bench.walking, walked] = [false, 0];
    theStage().setStandLook({ sway: bench.swaying ? swayed : undefined });
    moved();
    frame = asked() ? requestAnimationFrame(step) : 0;
    if (!frame) before = 0;
  }
  watch(asked, (does) => void (does && (frame ||= requestAnimationFrame(step))), { immediate: true });
  onScopeDispose(() => {
    cancelAnimationFrame(frame);
    Object.assign(bench, { turning: false, walking: false });
  });
}

/** Metres. */
export const [NEAR, FAR] = [0.5, 100];
