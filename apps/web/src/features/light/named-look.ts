import type { StandLook } from '@lithe-sieve/contract';
import { FIELDS_OF_VIEW } from '../../drawing/cameras/around';
import { ENVIRONMENT_NAMES } from '../../drawing/lit/environments';
import { useBenchStore } from '../../stores/bench.store';
import { theStage } from '../stage/stage';

/** How the Stand is looked at, as it is kept by name: the same for a small card and a large one. */
export function useNamedLook() {
  const bench = useBenchStore();

  function lookNow(): StandLook {
    const { azimuth, elevation } = theStage().stand.place;
    const { fieldOfView, backdrop, light, behind, copies } = bench;
    const distance = bench.distance / bench.wholeCard;
    return {
      azimuth,
      elevation,
      distance,
      fieldOfView,
      sky: backdrop,
      light: { ...light },
      behind: { ...behind },
      copies,
    };
  }

  function lookAs(look: StandLook): void {
    bench.backdrop = ENVIRONMENT_NAMES.find((name) => name === look.sky) ?? 'clear';
    bench.setLight(look.light);
    bench.behind = look.behind;
    bench.copies = look.copies;
    bench.fieldOfView = Math.min(FIELDS_OF_VIEW.max, Math.max(FIELDS_OF_VIEW.min, look.fieldOfView));
    bench.place = { azimuth: look.azimuth, elevation: look.elevation, aim: null, distance: look.distance };
  }

  return { lookNow, lookAs };
}
