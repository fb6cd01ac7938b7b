import type { KeptProfile } from '@lithe-sieve/contract';
import {
  PACKING_AT_FIRST,
  packingOf,
  profileOf,
  targetOf,
  type Budget,
  type Effort,
  type GreenWay,
  type MapName,
  type Naming,
  type PackedFile,
  type PieceDoc,
  type ProfileId,
  type Saving,
  type SceneSpace,
  type Target,
  type TextureContainer,
} from '@lithe-sieve/core';
import { usePiece } from '../stores/open-piece/open-piece';

/** Changes of how a piece is packed. */
export function usePackActions() {
  const piece = usePiece();

  function set(values: Partial<PieceDoc['handOff']>, what: string): void {
    piece.edit(what, (doc) => ({ ...doc, handOff: { ...doc.handOff, ...values } }));
  }

  return {
    setProfile: (profile: ProfileId) => set({ profile }, `Profile: ${profileOf(profile).label}`),
    setGreen: (green: GreenWay) => set({ green }, `Green of normals: ${green}`),
    setSway: (sway: boolean) => set({ sway }, `Root to tip in the vertices: ${sway ? 'yes' : 'no'}`),
    setSpace: (space: SceneSpace) => set({ space }, `Scenes in ${space.unit}, ${space.up} up`),
    setContainer: (container: TextureContainer) => set({ container }, `Levels in a ${container}`),
    setEffort: (effort: Effort) => set({ effort }, `Blocks: ${effort}`),
    /** A file that is called otherwise stays the one that the target takes opacity from. */
    setPacking(packing: PackedFile[], what: string) {
      const { packing: before = PACKING_AT_FIRST, target } = piece.doc?.handOff ?? {};
      const at = before.findIndex(({ name }) => name === target?.channel?.file);
      const now = packing.length === before.length ? packing[at]?.name : undefined;
      const renamed =
        target?.channel && now ? { target: { ...target, channel: { ...target.channel, file: now } } } : {};
      set({ packing, ...renamed }, `Packing: ${what}`);
    },
    setTarget: (target: Target, what: string) => set({ target }, `Target: ${what}`),
    setBudget: (budget: Budget, what: string) => set({ budget }, `Budget: ${what}`),
    takeProfile: (profile: KeptProfile, name: string) => {
      const { budget, naming } = profile; // one without has none
      set({ ...profile, budget, naming, profile: 'own-packing' }, `Profile: ${name}`);
    },
    /** The shipped profile as one of one's own, to be changed. */
    duplicate(made: ReadonlySet<MapName>) {
      const { doc } = piece;
      const packing = doc && packingOf(doc, made);
      if (doc && packing) set({ profile: 'own-packing', packing, target: targetOf(doc) }, 'A profile of its own');
    },
    save: ({ label, handOff }: Saving) => set(handOff, label),
    setNaming: (values: Naming, what: string) =>
      set({ naming: { ...piece.doc?.handOff.naming, ...values } }, `Names: ${what}`),
    setPattern: (pattern: string) => set({ pattern }, `Names: ${pattern}`),
  };
}
