/** Three rows of three, for linear light. */
export type ColourMatrix = readonly number[];

/**
 * Saturation (1 leaves it, 0 makes grey), a turn of the hue (degrees), and a tint (times red, green, blue) as one matrix; null where nothing changes.
 * Source: W3C, Filter Effects Module Level 1, §9.6 feColorMatrix, types `saturate` and `hueRotate`, reckoned in linear light as is usual there.
 */
export function colourMatrix(saturation: number, hue: number, tint: readonly number[]): ColourMatrix | null {
  if (saturation === 1 && hue % 360 === 0 && tint.every((t) => t === 1)) return null;
  const turned = product(hueMatrix((hue * Math.PI) / 180), saturationMatrix(saturation));
  return turned.map((v, i) => v * tint[Math.floor(i / 3)]!);
}

export function saturationMatrix(s: number): ColourMatrix {
  return [
    0.213 + 0.787 * s,
    0.715 - 0.715 * s,
    0.072 - 0.072 * s,
    0.213 - 0.213 * s,
    0.715 + 0.285 * s,
    0.072 - 0.072 * s,
    0.213 - 0.213 * s,
    0.715 - 0.715 * s,
    0.072 + 0.928 * s,
  ];
}

export function hueMatrix(angle: number): ColourMatrix {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  return [
    0.213 + c * 0.787 - s * 0.213,
    0.715 - c * 0.715 - s * 0.715,
    0.072 - c * 0.072 + s * 0.928,
    0.213 - c * 0.213 + s * 0.143,
    0.715 + c * 0.285 + s * 0.14,
    0.072 - c * 0.072 - s * 0.283,
    0.213 - c * 0.213 - s * 0.787,
    0.715 - c * 0.715 + s * 0.715,
    0.072 + c * 0.928 + s * 0.072,
  ];
}

function product(a: ColourMatrix, b: ColourMatrix): ColourMatrix {
  return Array.from({ length: 9 }, (_, i) => {
    const row = 3 * Math.floor(i / 3);
    const col = i % 3;
    return a[row]! * b[col]! + a[row + 1]! * b[3 + col]! + a[row + 2]! * b[6 + col]!;
  });
}
