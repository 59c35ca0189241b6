import { pyramidDown } from '../kernels/plain-picture.ts';
import { createPlane, type Plane } from '../image/plane.ts';

/**
 * Levels of half the size each, level 0 the picture itself. A level is the one below it smoothed with
 * the binomial 1-4-6-4-1 and sampled at even pixels, so sample i of level l lies over sample i·2^l of
 * level 0: continuous x becomes (x − 0.5) / 2^l in sample indices.
 *
 * Source: P. Burt, E. Adelson, The Laplacian Pyramid as a Compact Image Code, IEEE Trans.
 * Communications 31(4), 1983, with a = 0.375.
 */
export function buildPyramid(plane: Plane, levels: number): Plane[] {
  const out = [plane];
  for (let level = 1; level < levels; level++) {
    const below = out[level - 1]!;
    if (below.width < 4 || below.height < 4) break;
    const next = createPlane((below.width + 1) >> 1, (below.height + 1) >> 1);
    pyramidDown(below.data, below.width, below.height, next.data);
    out.push(next);
  }
  return out;
}
