import type {
  FieldOrderName,
  GapRuleName,
  MediaCorrections,
  QuarterTurn,
  StoredFacts,
} from '../../core/base/schemas/types.ts';

/** The shapes of media.schema.json, by the names they have in this room. */
export type Rotation = QuarterTurn;
export type FieldOrder = FieldOrderName;
export type GapRule = GapRuleName;
/** What a person says where the file is wrong or silent. Nothing here is needed. */
export type Corrections = { [K in keyof MediaCorrections]: MediaCorrections[K] | undefined };
/** What a file says about its pictures, what a person corrected, and what had to be assumed. */
export type MediaFacts = StoredFacts;

/** What of the facts decides the bytes of decoded frames; frames made under another key are not these frames. */
export function decodeKey(facts: MediaFacts): string {
  const { rotation, deinterlace, rawFormat, plan, gaps, missing, width, height, layout } = facts;
  const range = layout.kind === 'ycbcr' ? layout.coding.range : 'full';
  return JSON.stringify([
    rotation,
    deinterlace,
    rawFormat,
    plan === null ? 'constant' : facts.rate,
    missing.length > 0 ? gaps : '',
    width,
    height,
    range,
  ]);
}
