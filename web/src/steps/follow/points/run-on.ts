import { STOPS_UNDER, type PointFit } from '../../../../../core/motion/points/point-plan.ts';

/** What is known of a point on a frame; null where it was not looked for. */
type Known = (frame: number) => { readonly fit: PointFit | null } | null;

/** The way on from a frame that was put right by hand: away from the reference, to the end of the range. Null at its end. */
export function wayOn(
  frame: number,
  reference: number,
  [first, last]: readonly [number, number],
): { direction: 'forward' | 'backward'; span: [number, number] } | null {
  const span: [number, number] = frame >= reference ? [frame + 1, last] : [first, frame - 1];
  return span[0] > span[1] ? null : { direction: frame >= reference ? 'forward' : 'backward', span };
}

/** The first frame on that way at which the point no longer holds by itself, where a person takes over again; null where it held to the end. */
export function handsBackAt(
  known: Known,
  { direction, span: [first, last] }: { direction: 'forward' | 'backward'; span: readonly [number, number] },
): number | null {
  const frames = Array.from({ length: last - first + 1 }, (_, i) => (direction === 'forward' ? first + i : last - i));
  return (
    frames.find((frame) => {
      const fit = known(frame)?.fit;
      return !fit || fit.how === 'reckoned' || (fit.how === 'matched' && fit.score < STOPS_UNDER);
    }) ?? null
  );
}
