import type { ShotDocument, SpillArea } from '../../../../core/base/schemas/types.ts';
import { fixShapes } from '../front/fix-edits.ts';
import type { DrawnOutline } from './edit-outline.ts';

/**
 * What a drawn outline is for: followed, left out of following, telling what stands before the screen, where spilled light is worked on in its own way,
 * what the screen lights up, what it mirrors, what is painted out, or
 * where two pictures are divided.
 */
export type OutlineKind = 'regions' | 'keepOut' | 'shapes' | 'areas' | 'cast' | 'reflection' | 'fixes' | 'split';

/** The outlines of a kind as a document (or the draft of one) has them. */
export function outlinesOf(document: ShotDocument, list: OutlineKind): DrawnOutline[] {
  if (list === 'areas') return areasOf(document).map((area) => area.shape);
  if (list === 'split') return document.loop?.split?.shape ? [document.loop.split.shape] : [];
  if (list === 'fixes') return fixShapes(document);
  if (list === 'cast') return (document.look.cast?.areas ?? []).map((area) => area.shape);
  if (list === 'reflection') return document.look.reflections?.shape ? [document.look.reflections.shape] : [];
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

export const OUTLINE_NAMES: Readonly<Record<OutlineKind, string>> = {
  regions: 'region',
  keepOut: 'keep-out',
  shapes: 'shape',
  areas: 'area',
  cast: 'lit area',
  reflection: 'reflection',
  fixes: 'fix',
  split: 'dividing shape',
};
