import { hasInjectionContext, inject, provide, type InjectionKey } from 'vue';
import { defineClip, type ClipStore } from './clip';
import { defineEngine, type EngineStore } from './engine';
import { definePiece, type PieceStore } from './piece';
import { defineProposals, type ProposalsStore } from './proposals';

/** A piece that is open: its document, what is computed of it, and its clip. */
export interface OpenPiece {
  piece: PieceStore;
  engine: EngineStore;
  clip: ClipStore;
  proposals: ProposalsStore;
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
  const useProposals = defineProposals(scope, usePiece, useEngine);
  return { usePiece, useEngine, useClip, useProposals };
}

/** An open piece by the name of its place: the same name, the same one. Any number are open at once. */
export function openPiece(scope = ON_BENCH): OpenPiece {
  let own = stores.get(scope);
  if (!own) stores.set(scope, (own = storesOf(scope)));
  const [piece, engine, clip, proposals] = [own.usePiece(), own.useEngine(), own.useClip(), own.useProposals()];
  return {
    piece,
    engine,
    clip,
    proposals,
    close() {
      piece.close();
      engine.reset();
      clip.reset();
      proposals.reset();
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
export const useProposals = (): ProposalsStore => provided().proposals;
