/** Frames in a row that were lost, and why hold was lost at the first that was tried. */
export interface LostSpan {
  frames: [first: number, last: number];
  why: string;
}

/** Gathers lost frames, given in the order of their numbers, into spans. The reason is that of the frame next to the followed ones. */
export function lostSpans(
  frames: readonly { frame: number; lost?: string | null }[],
  referenceFrame = -Infinity,
): LostSpan[] {
  const spans: LostSpan[] = [];
  for (const { frame, lost } of frames) {
    if (typeof lost !== 'string') continue;
    const span = spans.at(-1);
    if (span && span.frames[1] === frame - 1) {
      span.frames[1] = frame;
      // Before the reference the run came from the later side.
      if (frame < referenceFrame) span.why = lost;
    } else spans.push({ frames: [frame, frame], why: lost });
  }
  return spans;
}
