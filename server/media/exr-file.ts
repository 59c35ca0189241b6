import { readFileSync } from 'node:fs';
import { deflateSync, inflateSync } from 'node:zlib';
import { halfBits, halfValue } from '../../core/base/image/half.ts';
import { writeWholeFile } from './frame-store.ts';

/** One channel of an EXR: values in rows from the top. */
export interface ExrChannel {
  readonly name: string;
  readonly values: Float32Array;
}

/** What stands in an EXR's header beside its channels. */
export interface ExrNotes {
  readonly rate?: readonly [number, number] | undefined;
  /** Hours, minutes, seconds, frames. */
  readonly timecode?: readonly [number, number, number, number] | undefined;
  readonly dropFrame?: boolean | undefined;
  readonly comments?: string | undefined;
  readonly pixelAspect?: number | undefined;
  /** Red, green, blue, white: x and y each (CIE 1931); BT.709 unless given. */
  readonly chromaticities?: readonly number[] | undefined;
  /** Pixels that the data reach beyond the picture to each side. */
  readonly overscan?: number | undefined;
}

/** Of ITU-R BT.709-6, section 1. */
const BT709 = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329];
const LINES = 16;
const ZIP = 3;
const HALF = 1;
const FLOAT = 2;

/**
 * A single-part scan-line OpenEXR file, ZIP-compressed by sixteen lines, of 16 or 32 bit floats.
 * Source: "OpenEXR File Layout" and "Technical Introduction to OpenEXR" (Academy Software Foundation, openexr.com), version 2 of the format.
 * `width` and `height` are those of the data, overscan counted.
 */
export function exrFile(
  width: number,
  height: number,
  channels: readonly ExrChannel[],
  bits: 16 | 32,
  notes: ExrNotes = {},
): Buffer {
  const sorted = [...channels].sort((a, b) => (a.name < b.name ? -1 : 1));
  const header = headerOf(width, height, sorted, bits, notes);
  const chunks: Buffer[] = [];
  for (let top = 0; top < height; top += LINES)
    chunks.push(chunkOf(sorted, width, top, Math.min(height, top + LINES), bits, -(notes.overscan ?? 0)));
  const table = Buffer.alloc(8 * chunks.length);
  let at = header.length + table.length;
  chunks.forEach((chunk, i) => {
    table.writeBigUInt64LE(BigInt(at), 8 * i);
    at += chunk.length;
  });
  return Buffer.concat([header, table, ...chunks]);
}

function headerOf(
  width: number,
  height: number,
  channels: readonly ExrChannel[],
  bits: 16 | 32,
  notes: ExrNotes,
): Buffer {
  const over = notes.overscan ?? 0;
  const parts: Buffer[] = [Buffer.from([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0])];
  const attribute = (name: string, type: string, value: Buffer) =>
    parts.push(Buffer.from(`${name}\0${type}\0`, 'latin1'), int(value.length), value);
  attribute(
    'channels',
    'chlist',
    Buffer.concat([
      ...channels.map(({ name }) =>
        Buffer.concat([
          Buffer.from(`${name}\0`, 'latin1'),
          int(bits === 16 ? HALF : FLOAT),
          Buffer.alloc(4),
          int(1),
          int(1),
        ]),
      ),
      Buffer.alloc(1),
    ]),
  );
  attribute('compression', 'compression', Buffer.from([ZIP]));
  attribute('dataWindow', 'box2i', Buffer.concat([-over, -over, width - over - 1, height - over - 1].map(int)));
  attribute('displayWindow', 'box2i', Buffer.concat([0, 0, width - 2 * over - 1, height - 2 * over - 1].map(int)));
  attribute('lineOrder', 'lineOrder', Buffer.from([0]));
  attribute('pixelAspectRatio', 'float', floats([notes.pixelAspect ?? 1]));
  attribute('screenWindowCenter', 'v2f', floats([0, 0]));
  attribute('screenWindowWidth', 'float', floats([1]));
  if (channels.some(({ name }) => name === 'R'))
    attribute('chromaticities', 'chromaticities', floats(notes.chromaticities ?? BT709));
  if (notes.rate) attribute('framesPerSecond', 'rational', Buffer.concat([int(notes.rate[0]), int(notes.rate[1])]));
  if (notes.timecode)
    attribute(
      'timeCode',
      'timecode',
      Buffer.concat([int(packedTimecode(notes.timecode, notes.dropFrame === true)), int(0)]),
    );
  if (notes.comments) attribute('comments', 'string', Buffer.from(notes.comments, 'utf8'));
  return Buffer.concat([...parts, Buffer.alloc(1)]);
}

/** Bits as in SMPTE ST 12-1 in its 60-field packing, which is how OpenEXR keeps them: frames, seconds, minutes, hours as tens and ones. */
function packedTimecode(
  [hours, minutes, seconds, frames]: readonly [number, number, number, number],
  drop: boolean,
): number {
  const digits = (value: number) => (Math.floor(value / 10) << 4) | (value % 10);
  return (
    digits(frames) | (drop ? 1 << 6 : 0) | (digits(seconds) << 8) | (digits(minutes) << 16) | (digits(hours) << 24)
  );
}

function chunkOf(
  channels: readonly ExrChannel[],
  width: number,
  top: number,
  bottom: number,
  bits: 16 | 32,
  first: number,
): Buffer {
  const size = bits / 8;
  const raw = Buffer.allocUnsafe((bottom - top) * channels.length * width * size);
  let at = 0;
  for (let row = top; row < bottom; row++) {
    for (const { values } of channels) {
      for (let i = row * width; i < (row + 1) * width; i++, at += size) {
        if (bits === 16) raw.writeUInt16LE(halfBits(values[i]!), at);
        else raw.writeFloatLE(values[i]!, at);
      }
    }
  }
  const packed = deflateSync(predicted(raw), { level: 4 });
  const data = packed.length < raw.length ? packed : raw;
  return Buffer.concat([int(top + first), int(data.length), data]);
}

/** Even bytes before odd ones, each as its difference from the one before. */
function predicted(raw: Buffer): Buffer {
  const out = Buffer.allocUnsafe(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i]!;
  for (let i = out.length - 1; i > 0; i--) out[i] = (out[i]! - out[i - 1]! + 128) & 255;
  return out;
}

const int = (value: number): Buffer => {
  const out = Buffer.alloc(4);
  out.writeInt32LE(value | 0);
  return out;
};
const floats = (values: readonly number[]): Buffer => Buffer.from(new Float32Array(values).buffer);

export function writeExrFile(file: string, ...picture: Parameters<typeof exrFile>): void {
  writeWholeFile(file, exrFile(...picture));
}

/** Reads back what `exrFile` writes, for what is made from finished frames. Values by channel name. */
export function readExrFile(file: string): { width: number; height: number; channels: Map<string, Float32Array> } {
  const bytes = readFileSync(file);
  const names: { name: string; half: boolean }[] = [];
  let at = 8;
  let width = 0;
  let height = 0;
  let top = 0;
  const text = () => {
    const end = bytes.indexOf(0, at);
    const value = bytes.toString('latin1', at, end);
    at = end + 1;
    return value;
  };
  for (let name = text(); name !== ''; name = text()) {
    text();
    const length = bytes.readInt32LE(at);
    const end = at + 4 + length;
    at += 4;
    if (name === 'channels')
      for (let channel = text(); channel !== ''; channel = text()) {
        names.push({ name: channel, half: bytes.readInt32LE(at) === HALF });
        at += 16;
        if (at >= end - 1) break;
      }
    if (name === 'dataWindow')
      [width, height, top] = [
        bytes.readInt32LE(at + 8) - bytes.readInt32LE(at) + 1,
        bytes.readInt32LE(at + 12) - bytes.readInt32LE(at + 4) + 1,
        bytes.readInt32LE(at + 4),
      ];
    at = end;
  }
  const channels = new Map(names.map(({ name }) => [name, new Float32Array(width * height)]));
  for (let chunk = 0, tables = Math.ceil(height / LINES); chunk < tables; chunk++) {
    let from = Number(bytes.readBigUInt64LE(at + 8 * chunk));
    const first = bytes.readInt32LE(from) - top;
    const length = bytes.readInt32LE(from + 4);
    const rows = Math.min(LINES, height - first);
    from += 8;
    const size = names.reduce((sum, { half }) => sum + (half ? 2 : 4), 0) * width * rows;
    const stored = bytes.subarray(from, from + length);
    const raw = length < size ? unpredicted(inflateSync(stored)) : stored;
    let p = 0;
    for (let row = first; row < first + rows; row++) {
      for (const { name, half } of names) {
        const out = channels.get(name)!;
        for (let i = row * width; i < (row + 1) * width; i++, p += half ? 2 : 4)
          out[i] = half ? HALVES[raw.readUInt16LE(p)]! : raw.readFloatLE(p);
      }
    }
  }
  return { width, height, channels };
}

function unpredicted(packed: Buffer): Buffer {
  const out = Buffer.allocUnsafe(packed.length);
  const half = (packed.length + 1) >> 1;
  for (let i = 1; i < packed.length; i++) packed[i] = (packed[i]! + packed[i - 1]! - 128) & 255;
  for (let i = 0; i < out.length; i++) out[i] = packed[(i & 1 ? half : 0) + (i >> 1)]!;
  return out;
}

const HALVES = Float32Array.from({ length: 65536 }, (_, code) => halfValue(code));
