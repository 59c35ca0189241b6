import { formatTimecode, parseTimecode } from '../../../core/handoff/exchange/timecode.ts';

/** How frames are called: by the plate's own numbers, or by its timecode where it has one. */
export interface FrameNaming {
  first: number;
  timecode: string | null;
  rate: readonly [number, number];
  useTimecode: boolean;
}

export function frameName(frame: number, { first, timecode, rate, useTimecode }: FrameNaming): string {
  const start = useTimecode && timecode ? parseTimecode(timecode, rate) : null;
  return start ? formatTimecode({ ...start, count: start.count + frame }, rate) : String(frame + first);
}
