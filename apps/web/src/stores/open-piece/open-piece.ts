import { hasInjectionContext, inject, provide, type InjectionKey } from 'vue';
import { defineClip, type ClipStore } from './clip';
import { defineEngine, type EngineStore } from './engine';
import { definePiece, type PieceStore } from './piece';

/** A piece that is open: its document, what is computed of it, and its clip. */
export interface OpenPiece {
  piece: PieceStore;
  engine: EngineStore;
  clip: ClipStore;
  /** Ends its workers and lets go of what was computed; what is not saved yet goes on being sent. */
  close(): void;
}

/** The one that the Bench and the Hand-off show. */
const ON_BENCH = 'bench';
const PROVIDED: InjectionKey<OpenPiece> = Symbol('open piece');

const stores = new Map<string, ReturnType<typeof storesOf>>();

function storesOf(scope: string) {
  const usePiece = definePiece(scope);
  const useEngine = defineEngine(scope, usePiece);
  const useClip = defineClip(scope, usePiece, useEngine);
  return { usePiece, useEngine, useClip };
}

/** An open piece by the name of its place: the same name, the same one. Any number are open at once. */
export function openPiece(scope = ON_BENCH): OpenPiece {
  let own = stores.get(scope);
  if (!own) stores.set(scope, (own = storesOf(scope)));
  const [piece, engine, clip] = [own.usePiece(), own.useEngine(), own.useClip()];
  return {
    piece,
    engine,
    clip,
    close() {
      piece.close();
      engine.reset();
      clip.reset();
    },
  };
}

/** The components below show this one. */
export function providePiece(open: OpenPiece): void {
  provide(PROVIDED, open);
}

/** What the components around provide; the Bench's where none does. */
function provided(): OpenPiece {
  return (hasInjectionContext() ? inject(PROVIDED, null) : null) ?? openPiece();
}

export const usePiece = (): PieceStore => provided().piece;
export const useEngine = (): EngineStore => provided().engine;
export const useClip = (): ClipStore => provided().clip;
