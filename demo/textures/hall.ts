import { fractalNoise, latticeHash, valueNoise } from '../scene/random.ts';
import { mix, paintTexture, roundedRectangle, smoothstep, type Colour, type Texture } from '../scene/texture.ts';

/** A hall's whitewashed brick wall with ivy on it and stains of water. */
export function ivyWall(widthCm: number, heightCm: number, perCm: number, seed: number): Texture {
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    const row = Math.floor(y / 8);
    const shifted = x + (row % 2) * 12;
    const brick = Math.floor(shifted / 24);
    const joint = Math.min(y - row * 8, shifted - brick * 24);
    const wash = fractalNoise(x * 0.05, y * 0.03, seed, 4);
    const rough = fractalNoise(x * 0.9, y * 0.9, seed + 1, 3);
    let colour: Colour = mix(
      mix([0.58, 0.55, 0.5], [0.76, 0.74, 0.69], wash),
      [0.42, 0.33, 0.28],
      smoothstep(0.6, 0.8, rough) * latticeHash(brick, row, seed),
    );
    if (joint < 0.9) colour = mix(colour, [0.4, 0.38, 0.35], 0.55);
    const ivy = fractalNoise(x * 0.012, y * 0.014, seed + 2, 4);
    if (ivy < 0.52) return colour;
    const leaf = leafAt(x, y, 6, seed + 3);
    return leaf ? mix(colour, leaf, smoothstep(0.52, 0.56, ivy)) : colour;
  });
}

/** The leaf that lies uppermost at a place, two to a square of `step` centimetres; null between leaves. */
function leafAt(x: number, y: number, step: number, seed: number): Colour | null {
  const column = Math.floor(x / step);
  const row = Math.floor(y / step);
  let found: Colour | null = null;
  let top = -1;
  for (let i = column - 1; i <= column + 1; i++)
    for (let j = row - 1; j <= row + 1; j++)
      for (let k = 0; k < 2; k++) {
        const hash = (n: number) => latticeHash(i * 2 + k, j * 7 + n, seed);
        const order = hash(0);
        if (order < top) continue;
        const angle = 2 * Math.PI * hash(1);
        const size = step * (0.5 + 0.4 * hash(2));
        const dx = x - (i + hash(3)) * step;
        const dy = y - (j + hash(4)) * step;
        const u = (dx * Math.cos(angle) + dy * Math.sin(angle)) / size;
        const v = (dy * Math.cos(angle) - dx * Math.sin(angle)) / size;
        if (Math.abs(u) >= 1 || 0.5 * (1 - u * u) <= Math.abs(v)) continue;
        top = order;
        found = mix(mix([0.1, 0.2, 0.08], [0.3, 0.45, 0.2], hash(5)), [0.5, 0.6, 0.35], Math.abs(v) < 0.04 ? 0.6 : 0);
      }
  return found;
}

/** Worn tiles of two colours with a dark joint. */
export function hallFloor(widthCm: number, heightCm: number, perCm: number, seed: number): Texture {
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    const i = Math.floor(x / 30);
    const j = Math.floor(y / 30);
    const worn = fractalNoise(x * 0.2, y * 0.2, seed, 4);
    const joint = Math.min(x - i * 30, y - j * 30);
    const tile: Colour = (i + j) % 2 === 0 ? [0.52, 0.46, 0.4] : [0.3, 0.29, 0.28];
    return mix(
      mix(tile, [0.62, 0.6, 0.56], worn * 0.4),
      [0.12, 0.11, 0.1],
      joint < 0.8 ? 0.8 : smoothstep(0.68, 0.76, valueNoise(x * 1.4, y * 1.4, seed + 1)) * 0.6,
    );
  });
}

/** A planter: a slatted box below, leaves above with a ragged upper edge (`planterCut`). */
export function planter(widthCm: number, heightCm: number, perCm: number, seed: number): Texture {
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    if (y > heightCm * 0.62) {
      const slat = Math.floor(x / 7);
      const grain = fractalNoise(x * 2 + slat * 13, y * 0.3, seed + slat, 3);
      return mix(mix([0.32, 0.22, 0.14], [0.56, 0.42, 0.28], grain), [0.06, 0.05, 0.04], x - slat * 7 < 0.7 ? 0.85 : 0);
    }
    return leafAt(x, y, 8, seed) ?? mix([0.03, 0.06, 0.03], [0.08, 0.13, 0.06], valueNoise(x * 0.3, y * 0.3, seed));
  });
}

export function planterCut(heightCm: number, seed: number): (x: number, y: number) => boolean {
  return (x, y) =>
    y <
    heightCm * (0.1 + 0.32 * fractalNoise(x * 0.06, 3, seed, 3)) +
      5 * Math.abs(valueNoise(x * 0.4, y * 0.4, seed) - 0.5);
}

/** A wall screen's face: a narrow dark frame that catches a little light at its rim. */
export function screenFace(width: number, height: number, perCm: number, seed: number): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const inside = -roundedRectangle(x, y, 0, 0, width, height, 0.6);
    const brushed = valueNoise(x * 8, y * 0.6, seed);
    return inside < 0.35
      ? mix([0.35, 0.36, 0.37], [0.2, 0.21, 0.22], brushed)
      : mix([0.05, 0.052, 0.056], [0.09, 0.092, 0.096], brushed);
  });
}

/** Somebody in a striped apron, seen from behind. */
export function walker(width: number, height: number, perCm: number, seed: number): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    if (y < height * 0.15) return mix([0.2, 0.13, 0.08], [0.38, 0.26, 0.16], fractalNoise(x * 0.8, y * 0.8, seed, 3));
    const stripe = Math.floor((x + 0.6 * Math.sin(y * 0.2)) / 4) % 2 === 0;
    const fold = fractalNoise(x * 0.15, y * 0.05, seed + 1, 3);
    if (y > height * 0.6) return mix([0.12, 0.15, 0.22], [0.25, 0.3, 0.42], fold);
    return mix(stripe ? [0.7, 0.66, 0.55] : [0.25, 0.36, 0.28], [0.1, 0.1, 0.1], 0.5 * fold);
  });
}

export function walkerCut(width: number, height: number): (x: number, y: number) => boolean {
  return (x, y) => {
    const cx = x - width / 2;
    if (y < height * 0.16) return (cx / (width * 0.17)) ** 2 + ((y - height * 0.08) / (height * 0.08)) ** 2 > 1;
    return Math.abs(cx) > width * (y < height * 0.6 ? 0.5 * Math.min(1, 0.55 + (y / height - 0.16) * 2) : 0.34);
  };
}
