import type { ShotDocument, SpillArea } from '../../../../core/schemas/types.ts';
import type { DrawnOutline } from './edit-outline.ts';

/** What a drawn outline is for: followed, left out of following, telling what stands before the screen, or where spilled light is worked on in its own way. */
export type OutlineKind = 'regions' | 'keepOut' | 'shapes' | 'areas';

/** The outlines of a kind as a document (or the draft of one) has them. */
export function outlinesOf(document: ShotDocument, list: OutlineKind): DrawnOutline[] {
  if (list === 'areas') return areasOf(document).map((area) => area.shape);
  return list === 'shapes' ? (document.look.shapes ?? []) : document[list];
}

/** Areas of the spill, in the order of the list. */
export function areasOf({ look: { spill } }: ShotDocument): SpillArea[] {
  return spill && spill !== 'measure' ? (spill.areas ?? []) : [];
}

/** The frame on which an outline is as its own points tell. */
export function homeOf(document: ShotDocument, outline: DrawnOutline): number {
  return ('home' in outline ? outline.home : undefined) ?? document.referenceFrame;
}

export const OUTLINE_NAMES: Readonly<Record<OutlineKind, string>> = { regions: 'region', keepOut: 'keep-out', shapes: 'shape', areas: 'area' };
