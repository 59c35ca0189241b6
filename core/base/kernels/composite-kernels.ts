import type { PixelBox } from '../image/pixel-box.ts';
import type { LightPicture } from '../image/picture.ts';

/** Content at full size and halved: x on level l is x / 2^l. */
export interface LevelledContent {
  readonly width: number;
  readonly height: number;
  readonly coarsest: number;
  level(l: number): LightPicture;
}

/** Places in content pixels, and the extent of a plate pixel along the content's rows and columns. */
export interface SamplePlaces {
  readonly u: Float32Array;
  readonly v: Float32Array;
  readonly su: Float32Array;
  readonly sv: Float32Array;
}

/** Where the pixels of one row look at the content, and how much of each is covered. */
export interface RowPlaces extends SamplePlaces {
  /** Share of the pixel that lies on the surface, faded towards its sides. */
  readonly covered: Float32Array;
  /** The same without its fade. */
  readonly plain: Float32Array;
}

/** A flat surface as its rows are reckoned: the picture's pixels to content pixels, and a·x + b·y + c > 0 inside of each side, with how far it fades inward, px. */
export interface FlatMap {
  readonly toContent: readonly number[];
  readonly sides: readonly { readonly a: number; readonly b: number; readonly c: number; readonly feather: number }[];
}

/** A layer while content is laid into it; its arrays belong to the kernels until it is finished. */
export interface PinWork {
  readonly layer: Float32Array;
  readonly cover: Float32Array | null;
  readonly places: RowPlaces;
  readonly weights: Float32Array;
  /**
   * Fills the places of the pixels from column `from` to before `to` of a row, looked at (dx, dy) within each, and their weights, `share` of what is
   * covered; adds as much of what is plainly covered to the cover from `at` on.
   */
  flatRow(map: FlatMap, row: number, from: number, to: number, dx: number, dy: number, share: number, at: number): void;
  /** Adds `weights[i]` times the content, by patches, to four values of the layer from `at` + 4·i on. */
  patches(count: number, at: number): void;
  /** The same bilinearly, each place `detail` times as wide as given: between two levels, or on the nearest one. */
  smooth(count: number, at: number, detail: number, between: boolean): void;
  /** The layer, and what it covers, convolved where a kernel is given, empty beyond their borders, as arrays of their own. */
  finish(kernel?: Float32Array): { layer: Float32Array; cover: Float32Array | null };
}

/** The hot loops of compositing. The plain ones are in core/picture/composite; compiled ones take their place where they are loaded, and a test holds the two equal. */
export interface CompositeKernels {
  readonly name: string;
  /** Null where its memory does not suffice: the plain loops are used then. */
  openPin(content: LevelledContent, width: number, height: number, withCover: boolean): PinWork | null;
  /** Separable convolution of interleaved samples, beyond the border zero or the outermost sample; null where memory does not suffice. */
  convolve(
    data: Float32Array,
    width: number,
    height: number,
    channels: number,
    kernel: Float32Array,
    border: 'empty' | 'repeat',
  ): Float32Array | null;
  /** Half the size of a picture of four channels (core/picture/pin/halve-light.ts); null where memory does not suffice. */
  halve(data: Float32Array, width: number, height: number, weights: ArrayLike<number>): Float32Array | null;
  /** Known values averaged over blocks and filled between (core/picture/matte/coarse-fill.ts): the blocks of each plane; null where memory does not suffice. */
  filledBlocks(
    values: readonly Float32Array[],
    weight: Float32Array,
    width: number,
    height: number,
    block: number,
  ): Float32Array[] | null;
  /** A coarse plane read at each pixel; null where memory does not suffice. */
  enlarge(
    plane: Float32Array,
    across: number,
    down: number,
    width: number,
    height: number,
    block: number,
  ): Float32Array | null;
  /** What stands in front by a key, and the light of the screen behind it (core/picture/matte/front-of-frame.ts); null where memory does not suffice. */
  key(task: KeyTask): { matte: Float32Array; screen: [Float32Array, Float32Array, Float32Array] } | null;
  /** Lays an insert behind what stands in front (core/picture/composite/occlusion.ts): how much content each pixel of the box shows; null, with nothing done, where memory does not suffice. */
  lay(task: LayTask): Float32Array | null;
  /** Lays grain on 8-bit display codes (core/picture/blend/lay-grain.ts); false, with nothing done, where memory does not suffice. */
  grain(task: GrainTask): boolean;
}

/** Grain to be laid on a part of a picture of 8-bit display codes. */
export interface GrainTask {
  /** Changed in place. */
  readonly codes: Uint8Array;
  readonly pictureWidth: number;
  readonly box: PixelBox;
  /** How much of each pixel of the box shows content. */
  readonly shown: Float32Array;
  /** Weights by which white noise is smoothed along rows and columns. */
  readonly across: readonly number[];
  readonly down: readonly number[];
  /** Of the common field; those of the channels follow. */
  readonly seed: number;
  /** What each channel's own field and the common one weigh. */
  readonly own: number;
  readonly shared: number;
  /** For each channel, what grain has of white at evenly spaced levels from 0 to 1. */
  readonly tables: readonly Float32Array[];
}

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** Where spilled light is replaced by one colour's, and by how much. */
export interface SpillTask {
  readonly box: PixelBox;
  /** How much is done at each pixel of the box, and 1 where whatever has the screen's colour has it from the screen. */
  readonly weight: Float32Array;
  readonly near: Float32Array;
  /** The screen's main channel and the two others. */
  readonly channels: readonly [number, number, number];
  readonly mix: number;
  readonly allowance: number;
  readonly most: number;
  readonly share: number;
  readonly screen: readonly number[];
}

/** An insert to be laid behind what stands in front of a keyed screen, over a part of an 8-bit picture of display codes. */
export interface LayTask {
  readonly codes: Uint8Array;
  /** Where it is written; a picture of the same size. */
  readonly out: Uint8Array;
  readonly pictureWidth: number;
  /** The box of all that follows up to the markers. */
  readonly box: PixelBox;
  /** The plate's light. */
  readonly planes: Planes;
  readonly front: Float32Array;
  readonly limit: Float32Array;
  readonly screen: Planes;
  readonly marked: Float32Array | null;
  /** Main channel of the screen and the two others. */
  readonly channels: readonly [number, number, number];
  readonly knownColours: boolean;
  readonly insert: { readonly layer: LightPicture; readonly box: PixelBox; readonly cover: Float32Array } | null;
  readonly opacity: number;
  /** Light that spilled, replaced by the content's mean light, or by none; its box holds the other. */
  readonly spill: (SpillTask & { readonly replace: 'average' | 'none' }) | null;
}

/** A key to be looked for in a region's light. */
export interface KeyTask {
  readonly planes: Planes;
  readonly width: number;
  readonly height: number;
  /** 1 where the screen's own picture is. */
  readonly inside: Float32Array;
  /** Above 0 on markers; null where there are none. */
  readonly marked: Float32Array | null;
  /** The key's main channel and the two others. */
  readonly channels: readonly [number, number, number];
  readonly colour: readonly number[];
  /** The excess of that colour. */
  readonly told: number;
  readonly mix: number;
  readonly floor: number;
  readonly ceiling: number;
}

let active: CompositeKernels | null = null;

/** The compiled loops in use; null while there are none. */
export function compositeKernels(): CompositeKernels | null {
  return active;
}

export function useCompositeKernels(kernels: CompositeKernels | null): void {
  active = kernels;
}
