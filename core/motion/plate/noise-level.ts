import type { Plane } from '../../base/image/plane.ts';
import { median, quantile } from '../../base/image/statistics.ts';

const BLOCK = 16;
/** At most this many blocks are looked at. */
const MOST_BLOCKS = 1600;
/** The flattest share of the blocks tells the noise. */
const FLAT_SHARE = 0.12;
/**
 * Of the flat blocks a low quantile is taken, because what texture is left in them only ever adds. Of pure noise, in blocks
 * of 256 overlapping residuals, that quantile lies at this share of the true variance (measured on white noise).
 */
const LOW_QUANTILE = 0.25;
const LOW_BIAS = 0.9;
/** Noise grows with brightness: it is measured in so many classes of brightness, and the middle one is told. */
const CLASSES = 5;
/** Where the means of a block spread so many times its noise's variance, texture adds more than a tenth to it (measured). */
const MOST_STRUCTURE = 150;
/** Blocks this near black or white are clipped: noise is cut off there. Display codes 0…255. */
const CLIPPED = { below: 6, above: 249 };

/**
 * Standard deviation of the noise in a picture, in the picture's units (display codes 0…255).
 *
 * The picture is convolved with [1 −2 1] in both directions, which leaves nothing of flat and evenly shaded
 * areas and multiplies white noise by 6 (J. Immerkær, "Fast Noise Variance Estimation", Computer Vision
 * and Image Understanding 64(2), 1996). Only the flattest blocks of each class of brightness count, told by the spread of
 * their 4×4 means, which noise hardly moves. What is determined is the noise of the middle class: of the picture's usual brightness.
 */
export function noiseLevel(plane: Plane): number {
  const { width, height } = plane;
  const across = Math.floor((width - 2) / BLOCK);
  const down = Math.floor((height - 2) / BLOCK);
  if (across < 1 || down < 1) return 0;
  const every = Math.max(1, Math.ceil(Math.sqrt((across * down) / MOST_BLOCKS)));
  const blocks: Block[] = [];
  for (let row = 0; row < down; row += every) {
    for (let col = 0; col < across; col += every) {
      const block = blockAt(plane, 1 + col * BLOCK, 1 + row * BLOCK);
      if (block) blocks.push(block);
    }
  }
  if (blocks.length === 0) return 0;
  blocks.sort((a, b) => a.mean - b.mean);
  const classes = Array.from({ length: CLASSES }, (_, k) =>
    flattest(blocks.slice(Math.floor((k * blocks.length) / CLASSES), Math.floor(((k + 1) * blocks.length) / CLASSES))),
  );
  const flat = classes.filter(
    (c) => c.length > 0 && median(c.map((b) => b.structure)) <= MOST_STRUCTURE * varianceOf(c),
  );
  return Math.sqrt(flat.length > 0 ? median(flat.map(varianceOf)) : varianceOf(flattest(blocks)));
}

interface Block {
  mean: number;
  structure: number;
  variance: number;
}

const flattest = (blocks: readonly Block[]): Block[] =>
  [...blocks].sort((a, b) => a.structure - b.structure).slice(0, Math.max(4, Math.ceil(FLAT_SHARE * blocks.length)));

const varianceOf = (flat: readonly Block[]): number =>
  quantile(
    flat.map((b) => b.variance),
    LOW_QUANTILE,
  ) / LOW_BIAS;

function blockAt({ width, data }: Plane, left: number, top: number): Block | null {
  let sum = 0;
  let squares = 0;
  const means = new Float64Array(16);
  for (let y = 0; y < BLOCK; y++) {
    for (let x = 0; x < BLOCK; x++) {
      const at = (top + y) * width + left + x;
      const value = data[at]!;
      sum += value;
      means[(y >> 2) * 4 + (x >> 2)]! += value;
      const residual =
        data[at - width - 1]! +
        data[at - width + 1]! +
        data[at + width - 1]! +
        data[at + width + 1]! -
        2 * (data[at - width]! + data[at - 1]! + data[at + 1]! + data[at + width]!) +
        4 * value;
      squares += residual * residual;
    }
  }
  const mean = sum / (BLOCK * BLOCK);
  if (mean < CLIPPED.below || mean > CLIPPED.above) return null;
  let structure = 0;
  for (const m of means) structure += (m / 16 - mean) ** 2;
  return { mean, structure, variance: squares / (36 * BLOCK * BLOCK) };
}
