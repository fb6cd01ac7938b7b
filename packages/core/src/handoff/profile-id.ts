export type ProfileId = 'glb' | 'rgba-png' | 'rgb-and-mask';
export type MapKind = 'card' | 'base' | 'mask';
