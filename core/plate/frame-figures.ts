import type { FrameMotion } from './blur-length.ts';

/** One frame's figures before they are judged against their neighbours'. */
export interface FrameFigures {
  sharpness: number;
  exposure: number;
  noise: number;
  /** Movement to the frame before. */
  motion: FrameMotion;
  /** Mean difference from the frame before, and that of the piece that differs most. */
  change: number;
  mostChange: number;
  /** How alike it is to the frame before, and to the one before that, −1…1. */
  alike: number;
  alikeTwoBack: number;
}
