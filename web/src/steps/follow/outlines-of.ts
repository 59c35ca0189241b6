import type { ShotDocument } from '../../../../core/schemas/types.ts';
import type { DrawnOutline } from './edit-outline.ts';

/** What a drawn outline is for: followed, left out of following, or telling what stands before the screen. */
export type OutlineKind = 'regions' | 'keepOut' | 'shapes';

/** The outlines of a kind as a document (or the draft of one) has them. */
export function outlinesOf(document: ShotDocument, list: OutlineKind): DrawnOutline[] {
  return list === 'shapes' ? (document.look.shapes ?? []) : document[list];
}

/** The frame on which an outline is as its own points tell. */
export function homeOf(document: ShotDocument, outline: DrawnOutline): number {
  return ('home' in outline ? outline.home : undefined) ?? document.referenceFrame;
}

export const OUTLINE_NAMES: Readonly<Record<OutlineKind, string>> = { regions: 'region', keepOut: 'keep-out', shapes: 'shape' };
