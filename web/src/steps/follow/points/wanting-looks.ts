import type { PointFit } from '../../../../../core/motion/points/point-plan.ts';

/** A point on a frame that a person should look at; `want` is greater the more it does. */
export interface WantsLook {
  readonly name: string;
  readonly frame: number;
  readonly want: number;
}

/** Frames of one point that are nearer to each other than this are one look; and what is less than this much wanting is only listed as the worst. */
const APART = 6;
const WANTING = 0.35;
/** Looks that are listed at most. */
const MOST = 40;

/** How much a point on a frame wants a look: most where it was lost, then where it was only reckoned, then where it is unsure or unlike its pattern. */
export function wantOf(fit: PointFit | null): number {
  if (!fit) return 3;
  if (fit.how === 'reckoned') return 1 + Math.min(1.9, fit.bound / 10);
  return fit.how === 'matched' ? Math.min(0.9, fit.bound / 4) + (1 - fit.score) : 0;
}

/** The points and frames that want a look, the worst first; neighbouring frames of a point count as one. The worst is listed however good it is. */
export function wantingLooks(
  frames: ReadonlyMap<number, ReadonlyMap<string, { readonly fit: PointFit | null }>>,
  names: readonly string[],
): WantsLook[] {
  const all: WantsLook[] = [];
  for (const [frame, row] of frames)
    for (const [name, { fit }] of row)
      if (names.includes(name) && wantOf(fit) > 0) all.push({ name, frame, want: wantOf(fit) });
  all.sort((a, b) => b.want - a.want || a.frame - b.frame);
  const told: WantsLook[] = [];
  for (const look of all) {
    if (told.length > 0 && (look.want < WANTING || told.length >= MOST)) break;
    if (!told.some((t) => t.name === look.name && Math.abs(t.frame - look.frame) < APART)) told.push(look);
  }
  return told;
}
