import { ContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import { keysKernel, samplePatches, widening } from '../../core/picture/pin/content-sampler.ts';
import { rowPlaces } from '../../core/picture/pin/surface-map.ts';
import type { LightPicture } from '../../core/base/image/picture.ts';

export interface SamplingFigure {
  title: string;
  value: number;
  limit: number;
  unit: string;
  /** Whether the value must be below the limit. */
  below: boolean;
}

const grey = (width: number, height: number, value: (x: number, y: number) => number): LightPicture => ({
  width,
  height,
  data: Float32Array.from({ length: width * height * 4 }, (_, i) =>
    i % 4 === 3 ? 1 : value(((i >> 2) % width) + 0.5, Math.floor((i >> 2) / width) + 0.5),
  ),
});

/** Hard strokes, blocks and grain. */
const page = grey(512, 512, (x, y) => {
  const hash = Math.sin(x * 12.9898 + y * 78.233) * 43758.5453;
  const stroke = Math.sin(x * 0.9 + Math.sin(y * 0.03) * 9) > 0.4 && y % 24 > 7 ? 0.7 : 0.1;
  return stroke + (((x >> 6) + (y >> 5)) % 3 === 0 ? 0.2 : 0) + 0.1 * (hash - Math.floor(hash));
});

function shown(level: LightPicture, shrink: number, across: number, shift: number): Float32Array {
  const content = new ContentPyramid(level, 0);
  const places = rowPlaces(across);
  const weights = new Float32Array(across).fill(1);
  const out = new Float32Array(across * across * 4);
  for (let row = 0; row < across; row++) {
    for (let col = 0; col < across; col++)
      [places.u[col], places.v[col], places.su[col], places.sv[col]] = [
        (col + 0.5 + shift) * shrink,
        (row + 0.5 + shift) * shrink,
        shrink,
        shrink,
      ];
    samplePatches(content, places, weights, across, out, row * across * 4);
  }
  return out.filter((_, i) => i % 4 === 0);
}

/** The stated kernel laid over every content pixel. */
function byDefinition({ width, data }: LightPicture, shrink: number, across: number, shift: number): Float32Array {
  const wide = Math.max(1, shrink * widening(shrink));
  const out = new Float32Array(across * across);
  const weightsAt = (x: number) => {
    const near: [number, number][] = [];
    for (let i = Math.max(0, Math.floor(x - 2 * wide - 1)); i < Math.min(width, x + 2 * wide + 1); i++)
      near.push([i, keysKernel(Math.abs(i + 0.5 - x) / wide)]);
    return near;
  };
  for (let row = 0; row < across; row++) {
    const down = weightsAt((row + 0.5 + shift) * shrink);
    for (let col = 0; col < across; col++) {
      let sum = 0;
      let total = 0;
      for (const [x, wx] of weightsAt((col + 0.5 + shift) * shrink))
        for (const [y, wy] of down) {
          sum += wx * wy * data[(y * width + x) * 4]!;
          total += wx * wy;
        }
      out[row * across + col] = sum / total;
    }
  }
  return out;
}

function psnr(shrink: number): number {
  const across = Math.min(120, Math.floor(512 / shrink));
  const a = shown(page, shrink, across, 0.13);
  const b = byDefinition(page, shrink, across, 0.13);
  let sum = 0;
  let n = 0;
  for (let row = 4; row < across - 4; row++)
    for (let col = 4; col < across - 4; col++, n++) sum += (a[row * across + col]! - b[row * across + col]!) ** 2;
  return -10 * Math.log10(Math.max(1e-20, sum / n));
}

/** The strongest ring that should be gone, dB under full contrast. */
function ring(shrink: number): number {
  const size = Math.ceil(150 * shrink);
  const middle = size / 2;
  const zone = grey(
    size,
    size,
    (x, y) => 0.5 + 0.5 * Math.cos((Math.PI / size) * ((x - middle) ** 2 + (y - middle) ** 2)),
  );
  const across = Math.floor(size / shrink);
  const seen = shown(zone, shrink, across, 0);
  let worst = 0;
  for (let row = 3; row < across - 3; row++) {
    for (let col = 3; col < across - 3; col++) {
      const x = (col + 0.5) * shrink - middle;
      const y = (row + 0.5) * shrink - middle;
      if ((Math.max(Math.abs(x), Math.abs(y)) / size) * shrink > 0.75)
        worst = Math.max(worst, Math.abs(seen[row * across + col]! - 0.5) / 0.5);
    }
  }
  return 20 * Math.log10(worst);
}

/** Shrinking and enlarging against the kernel as stated, and a zone plate. */
export function samplingFigures(): SamplingFigure[] {
  const shrunk = [1.5, 2, 3, 4, 6, 8];
  return [
    {
      title: `content shrunk to 1/1.5 … 1/8 against its kernel laid over every pixel, worst of ${shrunk.length}`,
      value: Math.min(...shrunk.map(psnr)),
      limit: 45,
      unit: 'dB',
      below: false,
    },
    {
      title: 'content enlarged 3 times against the kernel’s exact formula',
      value: psnr(1 / 3),
      limit: 45,
      unit: 'dB',
      below: false,
    },
    {
      title: 'zone plate shown 1/2, 1/4, 1/6.3 as large: strongest aliased ring',
      value: Math.max(...[2, 4, 6.3].map(ring)),
      limit: -35,
      unit: 'dB',
      below: true,
    },
  ];
}
