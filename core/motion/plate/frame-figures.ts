import type { FrameMotion } from './blur-length.ts';
import type { Likeness } from './cuts.ts';

/** One frame's figures before they are judged against their neighbours'. */
export interface FrameFigures extends Likeness {
  sharpness: number;
  exposure: number;
  noise: number;
  /** Movement to the frame before. */
  motion: FrameMotion;
  /** Mean difference from the frame before, and that of the piece that differs most. */
  change: number;
  mostChange: number;
}
