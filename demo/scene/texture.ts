/** A flat picture in linear light, three values a texel, with its scale in texels per centimetre. */
export interface Texture {
  width: number;
  height: number;
  perCm: number;
  readonly data: Float32Array;
}

export type Colour = readonly [number, number, number];

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

/** Evaluates `paint` (display-referred colour at centimetres) over a rectangle, when somebody first looks at it. */
export function paintTexture(widthCm: number, heightCm: number, perCm: number, paint: (x: number, y: number) => Colour): Texture {
  const width = Math.round(widthCm * perCm), height = Math.round(heightCm * perCm);
  let painted: Float32Array | null = null;
  return { width, height, perCm, get data() {
    return (painted ??= paintAll(width, height, perCm, paint));
  } };
}

function paintAll(width: number, height: number, perCm: number, paint: (x: number, y: number) => Colour): Float32Array {
  const data = new Float32Array(width * height * 3);
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const colour = paint((col + 0.5) / perCm, (row + 0.5) / perCm), at = (row * width + col) * 3;
      data[at] = lightOf(colour[0]);
      data[at + 1] = lightOf(colour[1]);
      data[at + 2] = lightOf(colour[2]);
    }
  }
  return data;
}

export function mix(a: Colour, b: Colour, t: number): Colour {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

export function smoothstep(from: number, to: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

/** Distance outside a rounded rectangle (negative inside), centimetres. */
export function roundedRectangle(x: number, y: number, left: number, top: number, right: number, bottom: number, radius: number): number {
  const qx = Math.abs(x - (left + right) / 2) - (right - left) / 2 + radius;
  const qy = Math.abs(y - (top + bottom) / 2) - (bottom - top) / 2 + radius;
  return Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) + Math.min(0, Math.max(qx, qy)) - radius;
}
