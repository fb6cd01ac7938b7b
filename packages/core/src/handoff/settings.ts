import { SCENE_SPACE, type SceneSpace } from '../piece/scene-space.ts';
import type { PieceDoc } from '../piece/piece-doc.ts';
import type { HandOffFile } from './profile.ts';
import { isColour, isPicture, isScene, isTexture, packedIn } from './file-plan.ts';
import { targetOf } from './target-of.ts';

const MODES = {
  mask: (cutoff: number) => `Mode: clip (mask), at a cutoff of ${cutoff}.`,
  blend: () => 'Mode: blend.',
  opaque: () => 'Mode: opaque.',
};

/** What is to be set in the target, a sentence each. @param files - What was written. */
export function settingsOf(doc: PieceDoc, files: readonly HandOffFile[]): string[] {
  const { material, levels, handOff } = doc;
  const { mode, cutoff, doubleSided, opacity } = material;
  const target = targetOf(doc);
  const pictures = files.filter(({ plan }) => isPicture(plan) || isTexture(plan));
  const isField = pictures.some(({ plan }) => isPicture(plan) && plan.divisor);
  const hasScene = files.some(({ plan }) => isScene(plan));
  const named = (is: (file: HandOffFile) => boolean) =>
    pictures
      .filter(is)
      .map((f) => f.name)
      .join(', ');
  const [colours, data] = [named(holdsColour), named((file) => !holdsColour(file))];
  const { channel } = target;
  const from = target.opacity === 'a channel' && channel ? `${'RGBA'[channel.channel]} of ${channel.file}` : `the ${target.opacity}`; // prettier-ignore
  return [
    ...(hasScene ? ['The scene file carries its material; set by hand only where it is not taken over:'] : []),
    isField && mode === 'mask' ? 'Mode: clip (mask), at a cutoff of 0.5: the mask is distances.' : MODES[mode](cutoff),
    ...(files.some(({ plan }) => plan.extension === 'obj') ? [unitWords(handOff.space)] : []),
    doubleSided ? 'Both sides show: two-sided on.' : 'One side shows: two-sided off.',
    ...(opacity < 1 ? [`Opacity factor: ${opacity}.`] : []),
    ...(hasScene || mode === 'opaque' ? [] : [`Opacity is ${from.replace('the the', 'the')}.`]),
    target.levels === 'file'
      ? 'Mip levels: those of the file; make none.'
      : `Mip levels: the target’s own, by a ${levels.madeBy === 'target' ? levels.averages : target.levels} filter.`,
    ...(colours ? [`Read as colour (sRGB): ${colours}.`] : []),
    ...(data ? [`Read as data (linear, not sRGB): ${data}.`] : []),
    ...(files.some(({ plan }) => plan.holds === 'normal' || holdsNormals(plan)) ? [`Green of normals points ${handOff.green === 'OpenGL' ? 'up' : 'down'}.`] : []), // prettier-ignore
  ];
}

const unitWords = ({ unit, up }: SceneSpace = SCENE_SPACE) =>
  `The OBJ is in ${unit === 'm' ? 'metres' : 'centimetres'}, ${up} up: nothing in it says so.`;

const holdsColour = ({ plan }: HandOffFile) => (isPicture(plan) || isTexture(plan)) && isColour(plan);
const holdsNormals = (plan: HandOffFile['plan']) =>
  packedIn(plan)?.fills.some((fill) => 'map' in fill && fill.map === 'normal') === true;
