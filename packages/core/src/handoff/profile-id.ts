export type ProfileId = 'glb' | 'rgba-png' | 'rgb-and-mask';
/** What {map} in a file name stands for. */
export type FileSlot = 'card' | 'base' | 'mask';
