import { onScopeDispose, watch } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { theStage } from './stage';

/** Radians a second. */
const TURNING = 0.5;

/** While it is asked for, the card turns; each frame tells what follows the camera. */
export function useTurning(moved: () => void): void {
  const bench = useBenchStore();
  let frame = 0;
  let before = 0;
  function step(now: number): void {
    const { stand } = theStage();
    stand.turnBy(before ? (TURNING * Math.min(200, now - before)) / 1000 : 0);
    before = now;
    theStage().invalidate('stand');
    moved();
    frame = requestAnimationFrame(step);
  }
  const stop = () => {
    cancelAnimationFrame(frame);
    frame = before = 0;
  };
  watch(
    () => bench.turning,
    (turns) => (turns ? (frame ||= requestAnimationFrame(step)) : stop()),
    { immediate: true },
  );
  onScopeDispose(stop);
}
