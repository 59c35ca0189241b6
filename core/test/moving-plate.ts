import { clamp } from '../base/geometry/clamp.ts';
import type { LumaFrame } from '../base/image/luma-frame.ts';

/** A plate made for tests: a broken-up texture that moves evenly, smeared by the shutter, with noise. */
export interface MovingPlate {
  width: number;
  height: number;
  /** Pixels a frame. */
  velocity: (frame: number) => [number, number];
  /** Fraction of the frame's time. */
  shutter: number;
  /** Standard deviation of the noise, in 255ths. */
  noise: number;
  seed?: number;
  /** Light of the whole frame; 1 unless given. */
  gain?: (frame: number) => number;
}

/** A smooth random field: values on a lattice, interpolated. */
function field(x: number, y: number, seed: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = x - ix;
  const fy = y - iy;
  const sx = fx * fx * (3 - 2 * fx);
  const sy = fy * fy * (3 - 2 * fy);
  const top = lattice(ix, iy, seed) * (1 - sx) + lattice(ix + 1, iy, seed) * sx;
  const bottom = lattice(ix, iy + 1, seed) * (1 - sx) + lattice(ix + 1, iy + 1, seed) * sx;
  return top * (1 - sy) + bottom * sy;
}

function lattice(x: number, y: number, seed: number): number {
  let h = Math.imul(x, 374761393) ^ Math.imul(y, 668265263) ^ Math.imul(seed, 1274126177);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}

/** Codes 0…1 of the texture: detail of every size in places, smooth in others, as in pictures of the world. */
export function textureAt(x: number, y: number, seed: number): number {
  const rough = clamp((field(x / 70, y / 70, seed + 99) - 0.38) * 6, 0, 1);
  let value = 0.2;
  for (let octave = 0, size = 2.2, share = 0.09; octave < 6; octave++, size *= 2, share *= 1.12)
    value += share * (size < 30 ? rough : 1) * field(x / size, y / size, seed + octave);
  return value;
}

/** The texture at every half pixel, in tiles that are made when they are looked at. */
const FINE = 2;
const TILE = 64;
const tiles = new Map<string, Float32Array>();
let last: { tx: number; ty: number; seed: number; tile: Float32Array } | null = null;

function tileAt(tx: number, ty: number, seed: number): Float32Array {
  if (last && last.tx === tx && last.ty === ty && last.seed === seed) return last.tile;
  const key = `${seed} ${tx} ${ty}`;
  let tile = tiles.get(key);
  if (!tile) {
    // One more each way, so that its last column and row can be read between.
    tile = new Float32Array((TILE + 1) ** 2);
    for (let j = 0; j <= TILE; j++)
      for (let i = 0; i <= TILE; i++)
        tile[j * (TILE + 1) + i] = textureAt((tx * TILE + i) / FINE, (ty * TILE + j) / FINE, seed);
    tiles.set(key, tile);
  }
  last = { tx, ty, seed, tile };
  return tile;
}

/** The texture read between its half pixels. */
function gridAt(x: number, y: number, seed: number): number {
  const gx = Math.floor(x * FINE);
  const gy = Math.floor(y * FINE);
  const tx = Math.floor(gx / TILE);
  const ty = Math.floor(gy / TILE);
  const tile = tileAt(tx, ty, seed);
  const at = (gy - ty * TILE) * (TILE + 1) + gx - tx * TILE;
  const fx = x * FINE - gx;
  const fy = y * FINE - gy;
  const top = tile[at]! + fx * (tile[at + 1]! - tile[at]!);
  const bottom = tile[at + TILE + 1]! + fx * (tile[at + TILE + 2]! - tile[at + TILE + 1]!);
  return top + fy * (bottom - top);
}

const made = new Map<string, Uint8Array>();
const MOST_KEPT = 300;

/** One frame's luma codes, 8 bit. Drawn once: the tests of a file look at the same plates again and again. */
export function movingFrame(plate: MovingPlate, frame: number): LumaFrame {
  const { width, height, shutter, noise, seed = 1, velocity, gain } = plate;
  const path = Array.from({ length: frame + 1 }, (_, f) => velocity(f));
  const key = JSON.stringify([width, height, shutter, noise, seed, path, gain?.(frame)]);
  let codes = made.get(key);
  if (!codes) {
    codes = draw(plate, frame);
    if (made.size < MOST_KEPT) made.set(key, codes);
  }
  return { width, height, codes: codes.slice(), peak: 255 };
}

function draw(plate: MovingPlate, frame: number): Uint8Array {
  const { width, height, shutter, noise, seed = 1 } = plate;
  let ox = 0;
  let oy = 0;
  for (let f = 0; f < frame; f++) {
    const [vx, vy] = plate.velocity(f);
    ox += vx;
    oy += vy;
  }
  const [vx, vy] = plate.velocity(frame);
  const steps = Math.max(1, Math.ceil(1.2 * shutter * Math.hypot(vx, vy)));
  // A smear averages whatever reading between grid points takes away.
  const look = steps > 1 ? gridAt : textureAt;
  const codes = new Uint8Array(width * height);
  let state = (seed * 7919 + frame * 104729 + 1) >>> 0;
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state + 0.5) / 2 ** 32;
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = 0; k < steps; k++) {
        const t = shutter * ((k + 0.5) / steps - 0.5);
        sum += look(x - ox - vx * t, y - oy - vy * t, seed);
      }
      const gaussian = Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
      codes[y * width + x] = clamp(
        Math.round((255 * (plate.gain?.(frame) ?? 1) * sum) / steps + noise * gaussian),
        0,
        255,
      );
    }
  }
  return codes;
}
