import { medianMotion, sharedBy, type FeatureTrack } from './feature-tracks.ts';

/** From one key frame to the next: at least such a share of the features, and so many, are still seen; what is seen moves by so much of the picture's width, or so many frames pass. */
const SHARE = 0.6;
const LEAST = 30;
const MOVES = 0.035;
const LONGEST = 24;
/** Most key frames: what is solved grows with their cube. */
const MOST = 60;

/** Frames that between them see everything and the camera from far enough apart, the first and the last among them. */
export function keyFrames(
  tracks: readonly FeatureTrack[],
  [first, last]: readonly [number, number],
  width: number,
): number[] {
  const out = [first];
  const apart = Math.max(1, Math.ceil((last - first) / MOST));
  for (let at = first; at < last;) {
    const seen = sharedBy(tracks, at, at).length;
    let next = Math.min(last, at + apart);
    for (let frame = next; frame <= Math.min(last, at + LONGEST); frame++) {
      if (sharedBy(tracks, at, frame).length < Math.max(LEAST, SHARE * seen)) break;
      next = frame;
      if ((medianMotion(tracks, at, frame) ?? Infinity) > MOVES * width) break;
    }
    out.push(next);
    at = next;
  }
  return out;
}
