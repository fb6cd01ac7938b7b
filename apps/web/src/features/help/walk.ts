/** A stop of the first walk: on which screen, at what, and what is said there. */
export interface Stop {
  screen: 'stock' | 'bench' | 'hand-off';
  /** Selector of what is pointed at. */
  at: string;
  title: string;
  text: string;
}

/** About two minutes. */
export const STOPS: readonly Stop[] = [
  {
    screen: 'stock',
    at: '.stock .bar',
    title: 'The Stock',
    text: 'Every picture that you drop here becomes a piece. We open one of those that are here and follow it to its files. Escape ends the walk at any time.',
  },
  {
    screen: 'bench',
    at: '.run',
    title: 'The run',
    text: 'From the picture at the left to the result at the right. Each tile shows what is there after its step. Press one to change its settings; nothing is ever lost by it.',
  },
  {
    screen: 'bench',
    at: '[data-test=start-from]',
    title: 'Start from…',
    text: 'For a picture without a mask: up to six masks that were found for it. Point at one to see it, press it to take its steps.',
  },
  {
    screen: 'bench',
    at: '[data-test=sheet]',
    title: 'The Sheet',
    text: 'The piece lying flat: its picture, its mask, what is kept. The wheel zooms, a drag moves it. Scribbles and strokes are drawn here.',
  },
  {
    screen: 'bench',
    at: '#settings',
    title: 'Settings',
    text: 'Of the step or tile that is selected. Drag a number: both views follow while you drag, and one undo takes it back.',
  },
  {
    screen: 'bench',
    at: '.what-passes',
    title: 'The cutoff',
    text: 'From which alpha on a texel is drawn. Drag the diamond, or press the comma and the full stop: the line says how much is kept.',
  },
  {
    screen: 'bench',
    at: '.sieve .ladder',
    title: 'Far away',
    text: 'The card at each mip level, as a target will clip it, with what is kept. A mark at the figure says: here it loses, or gains, too much.',
  },
  {
    screen: 'bench',
    at: '[data-test=stand]',
    title: 'The Stand',
    text: 'The same card in light. Drag to turn it, the wheel walks away from it: near and far, front and back, against the sun.',
  },
  {
    screen: 'bench',
    at: '.snags',
    title: 'Snags',
    text: 'What would go wrong later, in plain words. One press mends it; “What is this?” explains it.',
  },
  {
    screen: 'hand-off',
    at: '[data-test=profile]',
    title: 'For which target',
    text: 'Choose how the files are packed: one picture, colour and mask apart, a scene, textures with levels, or channels of your own.',
  },
  {
    screen: 'hand-off',
    at: '[data-test=write]',
    title: 'Write and check',
    text: 'Writes the files, reads them back from disk as a target would, and says what it would show.',
  },
  {
    screen: 'hand-off',
    at: '[data-test=open-help]',
    title: 'Help, always',
    text: 'F1 explains what is selected, the question mark lists all keys. This walk is found there, too.',
  },
];
