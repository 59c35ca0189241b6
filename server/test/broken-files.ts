import { crc32, deflateSync } from 'node:zlib';

/** The same every time: tests that fail can be run again. */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}

export const cut = (bytes: Uint8Array, share: number): Uint8Array =>
  bytes.subarray(0, Math.max(1, Math.floor(bytes.length * share)));

export function flipped(bytes: Uint8Array, seed: number, count = 40): Uint8Array {
  const out = bytes.slice();
  const random = randomFrom(seed);
  for (let i = 0; i < count; i++) out[Math.floor(random() * out.length)]! ^= 1 << Math.floor(random() * 8);
  return out;
}

/** A PNG whose header states a size; ISO/IEC 15948 §11.2.2. */
export function pngOf(width: number, height: number): Uint8Array {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head[8] = 8;
  head[9] = 2;
  return Buffer.concat([
    Buffer.from('89504e470d0a1a0a', 'hex'),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(4096))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** A little-endian TIFF of one entry each for width and height. */
export function tiffOf(width: number, height: number): Uint8Array {
  const entries: [number, number, number][] = [
    [256, 4, width],
    [257, 4, height],
    [258, 3, 8],
    [259, 3, 1],
    [262, 3, 1],
    [273, 4, 8],
    [277, 3, 1],
    [278, 4, height],
    [279, 4, 16],
  ];
  const out = Buffer.alloc(8 + 2 + entries.length * 12 + 4 + 32);
  out.write('II*\0', 0, 'latin1');
  out.writeUInt32LE(8, 4);
  out.writeUInt16LE(entries.length, 8);
  entries.forEach(([tag, type, value], i) => {
    out.writeUInt16LE(tag, 10 + i * 12);
    out.writeUInt16LE(type, 12 + i * 12);
    out.writeUInt32LE(1, 14 + i * 12);
    out.writeUInt32LE(value, 18 + i * 12);
  });
  return out;
}

/** The movie's time scale made zero, so that no time can be determined. */
export function withoutTimeScale(mp4: Uint8Array): Uint8Array {
  const out = Buffer.from(mp4);
  for (let at = out.indexOf('mdhd'); at >= 0; at = out.indexOf('mdhd', at + 4)) out.writeUInt32BE(0, at + 16);
  return out;
}

/** Boxes that claim to hold more than there is, one in the other, a hundred deep. */
export function endlessHeader(): Uint8Array {
  const parts = [Buffer.from('00000018667479706d703432000000006d70343269736f6d', 'hex')];
  for (let i = 0; i < 100; i++) parts.push(Buffer.from('7fffffff6d6f6f76', 'hex'));
  return Buffer.concat(parts);
}
