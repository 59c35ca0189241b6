import { fractalNoise, latticeHash, valueNoise } from '../scene/random.ts';
import { mix, paintTexture, smoothstep, type Colour, type Texture } from '../scene/texture.ts';

/** A potting bench seen from above: boards with grain, crumbs of soil, round pots, leaves. */
export function pottingBench(widthCm: number, heightCm: number, perCm: number, seed: number): Texture {
  const pots = Array.from({ length: 9 }, (_, i) => ({
    x: widthCm * latticeHash(i, 1, seed),
    y: heightCm * latticeHash(i, 2, seed),
    radius: 4 + 3.5 * latticeHash(i, 3, seed),
    hue: latticeHash(i, 4, seed),
  })).filter((pot) => Math.abs(pot.x - widthCm / 2) > 17 || Math.abs(pot.y - heightCm / 2) > 13);
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    for (const pot of pots) {
      const d = Math.hypot(x - pot.x, y - pot.y) / pot.radius;
      if (d < 1) return potColour(x, y, d, pot.hue, seed);
    }
    return boardColour(x, y, seed);
  });
}

function boardColour(x: number, y: number, seed: number): Colour {
  const board = Math.floor(y / 9);
  const gap = smoothstep(0.25, 0.05, Math.abs(y - board * 9));
  const grain = fractalNoise(x * 0.35 + board * 31, y * 3.1, seed + board, 4);
  const fleck = fractalNoise(x * 4, y * 4, seed + 91, 3);
  const base = mix([0.36, 0.26, 0.18], [0.62, 0.47, 0.33], grain * 0.75 + latticeHash(board, 5, seed) * 0.25);
  const soiled = mix(base, [0.13, 0.09, 0.06], smoothstep(0.63, 0.72, fleck));
  return mix(soiled, [0.08, 0.06, 0.05], gap * 0.8);
}

function potColour(x: number, y: number, d: number, hue: number, seed: number): Colour {
  if (d > 0.86) return mix([0.62, 0.33, 0.22], [0.44, 0.22, 0.15], valueNoise(x, y, seed));
  const leaf = fractalNoise(x * 0.9, y * 0.9, seed + 300, 4);
  const green: Colour = mix([0.1, 0.2, 0.09], [0.45 - 0.2 * hue, 0.62, 0.25], smoothstep(0.3, 0.7, leaf));
  return d > 0.8 ? mix(green, [0.12, 0.09, 0.07], 0.7) : green;
}

/** A glasshouse wall: mullions before blurred greenery and sky. */
export function glasshouseWall(widthCm: number, heightCm: number, perCm: number, seed: number): Texture {
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    const sky = 1 - y / heightCm;
    const leaves = fractalNoise(x * 0.09, y * 0.09, seed, 5);
    const back = mix([0.24, 0.34, 0.2], [0.74, 0.8, 0.78], smoothstep(0.45, 0.62, leaves * 0.6 + sky * 0.45));
    const bar = Math.min(Math.abs((x % 42) - 21), Math.abs((y % 55) - 27) * 1.1);
    return mix([0.86, 0.87, 0.84], back, smoothstep(0.7, 1.1, bar));
  });
}

/** Young plants close together, bright green as a lit panel is: two leaves to every square of `step` centimetres. */
export function seedlingShelf(widthCm: number, heightCm: number, perCm: number, seed: number, step = 5): Texture {
  return paintTexture(widthCm, heightCm, perCm, (x, y) => {
    const column = Math.floor(x / step);
    const row = Math.floor(y / step);
    let colour: Colour = mix([0.06, 0.12, 0.06], [0.16, 0.3, 0.12], fractalNoise(x * 0.12, y * 0.12, seed, 3));
    let top = -1;
    for (let i = column - 1; i <= column + 1; i++) {
      for (let j = row - 1; j <= row + 1; j++) {
        for (let k = 0; k < 2; k++) {
          const hash = (n: number) => latticeHash(i * 2 + k, j * 7 + n, seed);
          const order = hash(0);
          if (order < top) continue;
          const angle = 2 * Math.PI * hash(1);
          const size = step * (0.5 + 0.45 * hash(2));
          const dx = x - (i + hash(3)) * step;
          const dy = y - (j + hash(4)) * step;
          const u = (dx * Math.cos(angle) + dy * Math.sin(angle)) / size;
          const v = (dy * Math.cos(angle) - dx * Math.sin(angle)) / size;
          const inside = 0.4 * (1 - u * u) - Math.abs(v);
          if (Math.abs(u) >= 1 || inside <= 0) continue;
          top = order;
          colour = mix(
            mix([0.16, 0.5, 0.16], [0.4, 0.78, 0.3], hash(5)),
            [0.7, 0.88, 0.5],
            Math.abs(v) < 0.03 ? 0.5 : 0,
          );
        }
      }
    }
    return colour;
  });
}
