import type { PlateColour } from '../../core/image/plate-colour.ts';
import type { PrimariesName } from '../../core/image/primaries.ts';
import type { RawLayout } from '../../core/image/raw-frame.ts';
import type { TransferName } from '../../core/image/transfer-curves.ts';
import type { YcbcrCoding } from '../../core/image/ycbcr.ts';

export type Rotation = 0 | 90 | 180 | 270;
export type FieldOrder = 'progressive' | 'top-first' | 'bottom-first' | 'unknown';
export type GapRule = 'hold' | 'stop';

/** What a person says where the file is wrong or silent. Nothing here is needed. */
export interface Corrections {
  rate?: [number, number] | undefined;
  firstFrameNumber?: number | undefined;
  pixelAspect?: [number, number] | undefined;
  /** Degrees clockwise that the stored picture is turned by to stand upright. */
  rotation?: Rotation | undefined;
  deinterlace?: boolean | undefined;
  /** What to do about pictures that are missing from a sequence. */
  gaps?: GapRule | undefined;
  matrix?: YcbcrCoding['matrix'] | undefined;
  range?: YcbcrCoding['range'] | undefined;
  transfer?: TransferName | undefined;
  primaries?: PrimariesName | undefined;
}

/** What a file says about its pictures, what a person corrected, and what had to be assumed. */
export interface MediaFacts {
  /** Of the upright picture. */
  width: number;
  height: number;
  rotation: Rotation;
  /** Width : height of a stored pixel. */
  pixelAspect: [number, number];
  fieldOrder: FieldOrder;
  deinterlace: boolean;
  /** Exact frames per second. */
  rate: [number, number];
  /** Frames that decoding should give; 0 when the file doesn't tell. */
  frames: number;
  firstFrameNumber: number;
  timecode: string | null;
  container: string;
  codec: string;
  pixelFormat: string;
  colour: PlateColour;
  layout: RawLayout;
  /** ffmpeg's name of the layout's sample format. */
  rawFormat: string;
  /** A varying rate made constant: for each output frame the input frame that it shows; null when the rate is constant. */
  plan: number[] | null;
  doubled: number;
  dropped: number;
  /** Numbers missing from a sequence, as spans. */
  missing: [number, number][];
  gaps: GapRule | null;
  /** Sentences on what the file did not say. */
  assumed: string[];
  /** Sentences on what is unusual about it. */
  notes: string[];
}

/** What of the facts decides the bytes of decoded frames; frames made under another key are not these frames. */
export function decodeKey(facts: MediaFacts): string {
  const { rotation, deinterlace, rawFormat, plan, gaps, missing, width, height, layout } = facts;
  const range = layout.kind === 'ycbcr' ? layout.coding.range : 'full';
  return JSON.stringify([rotation, deinterlace, rawFormat, plan === null ? 'constant' : facts.rate, missing.length > 0 ? gaps : '', width, height, range]);
}
