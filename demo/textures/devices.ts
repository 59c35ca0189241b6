import { fractalNoise, latticeHash, valueNoise } from '../scene/random.ts';
import { mix, paintTexture, roundedRectangle, smoothstep, type Colour, type Texture } from '../scene/texture.ts';

/** A tablet's face: dark glass frame with a lens and a maker's dot, a metal rim, finger marks. */
export function tabletFace(width: number, height: number, perCm: number, seed: number): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const inside = -roundedRectangle(x, y, 0, 0, width, height, 1.2);
    if (inside < 0.16) return mix([0.3, 0.31, 0.32], [0.75, 0.76, 0.76], smoothstep(0, 0.12, inside));
    const smear = fractalNoise(x * 0.8, y * 0.8, seed, 4);
    const frame = mix([0.045, 0.048, 0.052], [0.11, 0.115, 0.12], smoothstep(0.45, 0.75, smear));
    const lens = Math.hypot(x - width / 2, y - 0.75);
    if (lens < 0.22) return mix([0.2, 0.22, 0.3], [0.02, 0.02, 0.03], smoothstep(0.05, 0.2, lens));
    return frame;
  });
}

/** The picture the tablet shows when it rests: overlapping leaves. */
export function leafPicture(width: number, height: number, perCm: number, seed: number): Texture {
  const leaves = Array.from({ length: 26 }, (_, i) => {
    const angle = Math.PI * 2 * latticeHash(i, 3, seed);
    return {
      x: width * latticeHash(i, 1, seed),
      y: height * latticeHash(i, 2, seed),
      cos: Math.cos(angle),
      sin: Math.sin(angle),
      size: 1.4 + 2.4 * latticeHash(i, 4, seed),
      hue: mix([0.24, 0.42, 0.2], [0.62, 0.7, 0.36], latticeHash(i, 5, seed)),
    };
  });
  return paintTexture(width, height, perCm, (x, y) => {
    let colour: Colour = mix([0.1, 0.18, 0.16], [0.2, 0.32, 0.24], fractalNoise(x * 0.3, y * 0.3, seed, 3));
    for (const { x: cx, y: cy, cos, sin, size, hue } of leaves) {
      const u = ((x - cx) * cos + (y - cy) * sin) / size;
      const v = (-(x - cx) * sin + (y - cy) * cos) / size;
      const edge = 0.42 * (1 - u * u) - Math.abs(v);
      if (Math.abs(u) >= 1 || edge <= 0) continue;
      const vein = Math.abs(v) < 0.025 || Math.abs(((u * 6 + Math.abs(v) * 5) % 1) - 0.5) < 0.06;
      colour = vein ? mix(hue, [0.85, 0.9, 0.7], 0.45) : mix(hue, [0.1, 0.2, 0.1], smoothstep(0.08, 0, edge) * 0.6);
    }
    return colour;
  });
}

/** A screen that is off: almost black, a faint sheen across it. */
export function darkGlass(width: number, height: number, perCm: number): Texture {
  return paintTexture(width, height, perCm, (x, y) =>
    mix([0.035, 0.037, 0.04], [0.075, 0.08, 0.085], smoothstep(0.2, 0.8, (x / width + y / height) / 2)),
  );
}

/** A screen lit flat green with small crosses, or without. */
export function greenWithMarkers(
  width: number,
  height: number,
  perCm: number,
  columns: number,
  rows: number,
  marked = true,
): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const cellX = width / columns;
    const cellY = height / rows;
    const dx = Math.abs(((x / cellX) % 1) - 0.5) * cellX;
    const dy = Math.abs(((y / cellY) % 1) - 0.5) * cellY;
    const onCross = marked && Math.min(dx, dy) < 0.07 && Math.max(dx, dy) < 0.42;
    return onCross ? [0.08, 0.36, 0.14] : [0.2, 0.74, 0.3];
  });
}

/** A panel lit green, a little darker towards its sides, with small round markers, or without. */
export function greenPanel(
  width: number,
  height: number,
  perCm: number,
  columns: number,
  rows: number,
  marked = true,
): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const cellX = width / columns;
    const cellY = height / rows;
    const dx = (((x / cellX) % 1) - 0.5) * cellX;
    const dy = (((y / cellY) % 1) - 0.5) * cellY;
    const away = Math.hypot(x / width - 0.5, y / height - 0.5);
    return mix(
      [0.2, 0.74, 0.3],
      [0.07, 0.33, 0.13],
      Math.max(0.16 * away * away, marked ? smoothstep(0.16, 0.13, Math.hypot(dx, dy)) : 0),
    );
  });
}

/** Mean light of a picture, from every eighth texel. */
export function meanLight(texture: Texture): Colour {
  const { width, height, data, unpainted } = texture;
  const sum = [0, 0, 0];
  if (unpainted) unpainted.done.forEach((done, block) => done === 0 && unpainted.paint(block));
  let n = 0;
  for (let row = 4; row < height; row += 8)
    for (let col = 4; col < width; col += 8, n++)
      for (let c = 0; c < 3; c++) sum[c]! += data[(row * width + col) * 3 + c]!;
  return [sum[0]! / n, sum[1]! / n, sum[2]! / n];
}

/** A laptop's lid from inside: grey frame, lens, hinge, a sticker at the lower edge. */
export function laptopLid(width: number, height: number, perCm: number, seed: number): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const brushed = valueNoise(x * 0.7, y * 22, seed);
    let colour: Colour = mix([0.1, 0.1, 0.11], [0.16, 0.16, 0.17], brushed);
    if (Math.min(x, y, width - x) < 0.15) colour = [0.5, 0.51, 0.52];
    if (Math.hypot(x - width / 2, y - 0.5) < 0.14) colour = [0.02, 0.02, 0.03];
    if (roundedRectangle(x, y, width - 4.2, height - 1.15, width - 1.4, height - 0.35, 0.15) < 0) {
      colour = valueNoise(x * 5, y * 5, seed + 4) > 0.5 ? [0.82, 0.78, 0.6] : [0.3, 0.45, 0.32];
    }
    return colour;
  });
}

/** The laptop's keys, as seen on the plane below the lid. */
export function laptopKeys(width: number, height: number, perCm: number, seed: number): Texture {
  return paintTexture(width, height, perCm, (x, y) => {
    const row = Math.floor((y - 1.2) / 1.75);
    const inRow = y - 1.2 - row * 1.75;
    const shift = (row % 3) * 0.45;
    const column = Math.floor((x - 1.5 - shift) / 1.85);
    const inColumn = x - 1.5 - shift - column * 1.85;
    const key = row >= 0 && row < 5 && column >= 0 && x < width - 2 && inRow < 1.5 && inColumn < 1.6;
    if (key) {
      const mark =
        latticeHash(Math.floor(x * 7), Math.floor(y * 7), seed) > 0.72 &&
        Math.hypot(inColumn - 0.8, inRow - 0.75) < 0.42;
      return mark ? [0.8, 0.8, 0.78] : [0.09, 0.09, 0.1];
    }
    if (y > height - 6.5 && y < height - 1.2 && Math.abs(x - width / 2) < 4.6) return [0.42, 0.43, 0.44];
    return mix([0.5, 0.51, 0.52], [0.57, 0.58, 0.59], fractalNoise(x * 2, y * 2, seed, 3));
  });
}
