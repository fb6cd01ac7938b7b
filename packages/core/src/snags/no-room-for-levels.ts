import { holdsLevels, profileOf } from '../handoff/profile.ts';
import type { SnagCheck } from './snag.ts';

/** Levels of our own are made, but what is handed off has no place for them. */
export const noRoomForLevels: SnagCheck = ({ doc }) => {
  const profile = profileOf(doc.handOff.profile);
  if (doc.levels.madeBy !== 'file' || holdsLevels(doc)) return null;
  return {
    id: 'no-room-for-levels',
    text: `Mip levels are lost: “${profile.label}” has no room for those made here, and the target will average its own.`,
    remedy: {
      label: 'Hand off a DDS with levels',
      apply: (d) => ({ ...d, handOff: { ...d.handOff, profile: 'dds-bc7' } }),
    },
  };
};
