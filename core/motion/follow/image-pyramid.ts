import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { kernels, type KernelFactory, type KernelSet, type TexelPlane } from '../../base/kernels/index.ts';
import type { Plane } from '../../base/image/plane.ts';
import { signalTable } from './signal.ts';

/** Pyramid levels that following may use, the picture itself included. */
export const MOST_LEVELS = 6;
/** A level is not made when a side would be shorter, in samples. */
const SHORTEST_SIDE = 8;
/** Texels are made in squares of this side, when they are first needed. */
const TILE = 32;

/** One pyramid level of a picture: its samples, and texels where they have been asked for. */
export interface PictureLevel extends TexelPlane {
  readonly value: Float32Array;
}

interface Tiles {
  readonly across: number;
  readonly done: Uint8Array;
}

/**
 * A picture as the follower looks at it: the pyramid of its signal, in the memory of a set of kernels, to be filled again
 * for every frame.
 */
export class PictureLevels {
  readonly levels: readonly PictureLevel[];
  private readonly tiles: readonly Tiles[];
  private mask: Uint8Array | null = null;
  private maskRoom: Uint8Array | null = null;

  constructor(
    readonly set: KernelSet,
    readonly width: number,
    readonly height: number,
  ) {
    const levels: PictureLevel[] = [];
    for (
      let w = width, h = height;
      levels.length < MOST_LEVELS && (levels.length === 0 || Math.min(w, h) >= SHORTEST_SIDE);
      w = (w + 1) >> 1, h = (h + 1) >> 1
    ) {
      levels.push({ width: w, height: h, value: set.floats(w * h), texels: set.floats(4 * w * h) });
    }
    this.levels = levels;
    this.tiles = levels.map((level) => {
      const across = Math.ceil(level.width / TILE);
      return { across, done: new Uint8Array(across * Math.ceil(level.height / TILE)) };
    });
  }

  /** Takes in a frame's luma codes (full range, 0…peak). */
  fill(codes: Uint8Array | Uint16Array, peak: 255 | 65535): this {
    if (codes.length !== this.width * this.height)
      throw new RangeError(`${codes.length} luma codes do not fill ${this.width}×${this.height}`);
    this.set.signal(codes, this.width, this.height, signalTable(peak), this.levels[0]!.value);
    return this.makePyramid();
  }

  /** Takes in a signal that is there already. */
  fillSignal(signal: Plane): this {
    this.levels[0]!.value.set(signal.data);
    return this.makePyramid();
  }

  /** Pixels that may be looked at (1) or not (0), one byte each of the full picture; null for all. Forgets the texels made so far. */
  permit(mask: Uint8Array | null): this {
    if (mask) {
      this.maskRoom ??= this.set.bytes(this.width * this.height);
      this.maskRoom.set(mask);
    }
    this.mask = mask && this.maskRoom;
    for (const { done } of this.tiles) done.fill(0);
    return this;
  }

  /** Sees to it that the texels around some points (sample indices of the level) are there. */
  need(index: number, points: readonly Point[], margin: number): void {
    const level = this.levels[index]!;
    const { across, done } = this.tiles[index]!;
    const tileAt = (v: number, most: number) => clamp(Number.isFinite(v) ? v : 0, 0, most);
    const xs = points.map((p) => p[0]);
    const ys = points.map((p) => p[1]);
    const whole = !xs.every(Number.isFinite) || !ys.every(Number.isFinite);
    const left = whole ? 0 : tileAt(Math.floor((Math.min(...xs) - margin) / TILE), across - 1);
    const right = whole ? across - 1 : tileAt(Math.floor((Math.max(...xs) + margin + 1) / TILE), across - 1);
    const down = done.length / across;
    const top = whole ? 0 : tileAt(Math.floor((Math.min(...ys) - margin) / TILE), down - 1);
    const bottom = whole ? down - 1 : tileAt(Math.floor((Math.max(...ys) + margin + 1) / TILE), down - 1);
    for (let row = top; row <= bottom; row++) {
      for (let col = left; col <= right; col++) {
        if (done[row * across + col] === 1) continue;
        // Neighbours that are missing, too, are made in one go.
        let end = col;
        while (end <= right && done[row * across + end] === 0) done[row * across + end++] = 1;
        const rect = {
          left: col * TILE,
          top: row * TILE,
          right: Math.min(level.width, end * TILE),
          bottom: Math.min(level.height, (row + 1) * TILE),
        };
        this.set.texels(level.value, level.width, level.height, this.mask, this.width, index, rect, level.texels);
        col = end;
      }
    }
  }

  private makePyramid(): this {
    for (let i = 1; i < this.levels.length; i++) {
      const from = this.levels[i - 1]!;
      this.set.pyramidDown(from.value, from.width, from.height, this.levels[i]!.value);
    }
    for (const { done } of this.tiles) done.fill(0);
    return this;
  }
}

/** Bytes that a picture, or a template point, takes in a set's memory. */
const BYTES_A_PIXEL = 4 * 5 * 1.34 + 2;
const BYTES_A_POINT = 4 * 16;

/** A set of kernels with room for some pictures of a size, and for some template points. */
export function openMemory(
  width: number,
  height: number,
  pictures: number,
  points: number,
  factory: KernelFactory = kernels(),
  shared = false,
): KernelSet {
  return factory.open(
    Math.ceil(pictures * width * height * BYTES_A_PIXEL + points * BYTES_A_POINT) + 4_000_000,
    shared,
  );
}
