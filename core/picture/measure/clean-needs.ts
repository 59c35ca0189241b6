import type { CleanSurface } from '../pin/clean-surface.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import type { ResolvedLook } from '../look/look.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { cleanDark, cleanLit, DARK_FRAMES, LIT_FRAMES, type CleanFrame } from './measure-clean.ts';

/** How a clean surface is measured, where a look asks for it: by what a dark one falls to, or by what a lit one goes on showing. */
export type CleanKind = 'dark' | 'lit';

export function cleanNeeds({
  reflections,
  oldScreen,
  front,
}: Pick<ResolvedLook, 'reflections' | 'oldScreen' | 'front'>): CleanKind | null {
  if (reflections?.from === 'dark') return reflections.black ? null : 'dark';
  return oldScreen === 'edges' && front.keys.length === 0 ? 'lit' : null;
}

/** Frames whose pictures tell it, of those where the surface is known; the home frame first. */
export function cleanFrames(kind: CleanKind, known: readonly number[], home: number): number[] {
  const n = Math.min(kind === 'dark' ? DARK_FRAMES : LIT_FRAMES - 1, known.length);
  const spread = Array.from({ length: n }, (_, k) => known[Math.floor(((k + 0.5) * known.length) / n)]!);
  return [...new Set(kind === 'lit' ? [home, ...spread] : spread)];
}

/** The surface told clean from the pictures of those frames, in their order. */
export function cleanSurface(
  kind: CleanKind,
  frames: readonly Omit<CleanFrame & { readonly frame: number }, 'stops'>[],
  look: Pick<ResolvedLook, 'exposure' | 'soften' | 'disc'>,
  ratio: number,
  colour: PlateColour,
): CleanSurface | null {
  const told = frames.map((one): CleanFrame => ({ ...one, stops: numberAt(look.exposure, one.frame) }));
  return kind === 'dark'
    ? cleanDark(told, ratio, colour)
    : cleanLit(
        told,
        colour,
        Math.hypot(numberAt(look.soften, frames[0]?.frame ?? 0), numberAt(look.disc, frames[0]?.frame ?? 0) / 2),
      );
}
