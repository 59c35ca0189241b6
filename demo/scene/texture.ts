/** A flat picture in linear light, three values a texel, with its scale in texels per centimetre. */
export interface Texture {
  width: number;
  height: number;
  perCm: number;
  readonly data: Float32Array;
  /** Null when all of `data` is there from the start. */
  unpainted: Unpainted | null;
}

/** Blocks of a texture that are painted when somebody first looks at them: most of a bench is never seen. */
export interface Unpainted {
  /** Blocks in a row. */
  across: number;
  /** 1 for every block whose texels, and those just beyond its right and lower side, are in `data`. */
  done: Uint8Array;
  paint(block: number): void;
}

/** A block's side is 2 to this power, texels. */
export const BLOCK_BITS = 6;

export type Colour = readonly [number, number, number];

/** Light of codes in steps of 1/2048 from 0 to 1.25; between them linear, a millionth off. */
const STEPS = 2048;
let table: Float32Array | null = null;

function lightFast(c: number): number {
  table ??= Float32Array.from({ length: 1.25 * STEPS + 2 }, (_, i) => lightOf(i / STEPS));
  const at = c * STEPS;
  const i = at | 0;
  return at >= 0 && i < table.length - 1 ? table[i]! + (at - i) * (table[i + 1]! - table[i]!) : lightOf(c);
}

/** The display-referred colour as linear light (IEC 61966-2-1). */
export function light(colour: Colour): Colour {
  return [lightOf(colour[0]), lightOf(colour[1]), lightOf(colour[2])];
}

function lightOf(c: number): number {
  return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
}

/** Linear light as a display-referred code 0…1 (IEC 61966-2-1). */
export function code(value: number): number {
  return value <= 0.0031308 ? Math.max(0, value) * 12.92 : 1.055 * Math.min(1, value) ** (1 / 2.4) - 0.055;
}

/** Evaluates `paint` (display-referred colour at centimetres) over a rectangle, block by block when they are first looked at. */
export function paintTexture(
  widthCm: number,
  heightCm: number,
  perCm: number,
  paint: (x: number, y: number) => Colour,
): Texture {
  const width = Math.round(widthCm * perCm);
  const height = Math.round(heightCm * perCm);
  const data = new Float32Array(width * height * 3);
  const across = (width >> BLOCK_BITS) + 1;
  const done = new Uint8Array(across * ((height >> BLOCK_BITS) + 1));
  const paintBlock = (block: number) => {
    const left = (block % across) << BLOCK_BITS;
    const top = Math.floor(block / across) << BLOCK_BITS;
    const side = (1 << BLOCK_BITS) + 1;
    for (let row = top; row < Math.min(height, top + side); row++) {
      for (let col = left; col < Math.min(width, left + side); col++) {
        const colour = paint((col + 0.5) / perCm, (row + 0.5) / perCm);
        const at = (row * width + col) * 3;
        for (let c = 0; c < 3; c++) data[at + c] = lightFast(colour[c]!);
      }
    }
    done[block] = 1;
  };
  return { width, height, perCm, data, unpainted: { across, done, paint: paintBlock } };
}

export function mix(a: Colour, b: Colour, t: number): Colour {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

export function smoothstep(from: number, to: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** Distance outside a rounded rectangle (negative inside), centimetres. */
export function roundedRectangle(
  x: number,
  y: number,
  left: number,
  top: number,
  right: number,
  bottom: number,
  radius: number,
): number {
  const qx = Math.abs(x - (left + right) / 2) - (right - left) / 2 + radius;
  const qy = Math.abs(y - (top + bottom) / 2) - (bottom - top) / 2 + radius;
  return Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) + Math.min(0, Math.max(qx, qy)) - radius;
}
