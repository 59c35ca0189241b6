import { vectorFromRotation, type Rotation } from '../../motion/pose/rotation.ts';

const FLOAT = 5126;
const UNSIGNED_SHORT = 5123;
/** What a view of the buffer is for. Source: Khronos Group, glTF 2.0 specification (2021), §5.11. */
export const VERTICES = 34962;
export const INDICES = 34963;

/** The binary part of a glTF file in one piece, and what tells of it. */
export class GltfBuffer {
  private readonly parts: {
    readonly data: Uint8Array;
    readonly accessor: object;
    readonly target: number | undefined;
  }[] = [];

  /** Adds an accessor; its number. */
  add(
    data: Float32Array | Uint16Array,
    type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4',
    count: number,
    more: object = {},
    target?: number,
  ): number {
    this.parts.push({
      data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
      accessor: { componentType: data instanceof Float32Array ? FLOAT : UNSIGNED_SHORT, count, type, ...more },
      target,
    });
    return this.parts.length - 1;
  }

  /** Places x, y, z, with their bounds as the specification asks for (§3.6.2.5). */
  places(data: Float32Array): number {
    const side = (pick: (a: number, b: number) => number, from: number) =>
      [0, 1, 2].map((axis) => {
        let v = from;
        for (let i = axis; i < data.length; i += 3) v = pick(v, data[i]!);
        return v;
      });
    return this.add(
      data,
      'VEC3',
      data.length / 3,
      { min: side(Math.min, Infinity), max: side(Math.max, -Infinity) },
      VERTICES,
    );
  }

  /** Members of the file. */
  members(): { accessors: object[]; bufferViews: object[]; buffers: object[] } {
    let length = 0;
    const bufferViews = this.parts.map(({ data, target }) => {
      const view = {
        buffer: 0,
        byteOffset: length,
        byteLength: data.length,
        ...(target === undefined ? {} : { target }),
      };
      length += Math.ceil(data.length / 4) * 4;
      return view;
    });
    const bytes = new Uint8Array(length);
    this.parts.forEach(({ data }, i) => bytes.set(data, bufferViews[i]!.byteOffset));
    return {
      accessors: this.parts.map(({ accessor }, i) => ({ bufferView: i, ...accessor })),
      bufferViews,
      buffers: [{ byteLength: length, uri: `data:application/octet-stream;base64,${base64(bytes)}` }],
    };
  }
}

/** A rectangle's corners (from the upper left, clockwise) as a mesh's primitive with the coordinates of content. */
export function rectangle(
  buffer: GltfBuffer,
  corners: readonly (readonly number[])[],
  normal: readonly number[],
  material: number,
): object {
  const position = buffer.places(Float32Array.from(corners.flat()));
  const normals = buffer.add(Float32Array.from([...normal, ...normal, ...normal, ...normal]), 'VEC3', 4, {}, VERTICES);
  const texture = buffer.add(Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1]), 'VEC2', 4, {}, VERTICES);
  const indices = buffer.add(Uint16Array.from([0, 3, 2, 0, 2, 1]), 'SCALAR', 6, {}, INDICES);
  return { attributes: { POSITION: position, NORMAL: normals, TEXCOORD_0: texture }, indices, material };
}

/** A moving node's place and turn, frame by frame, as an animation of node `node`. */
export function animation(
  buffer: GltfBuffer,
  name: string,
  node: number,
  frames: readonly { readonly seconds: number; readonly turn: Rotation; readonly place: readonly number[] }[],
  extras: object,
): object {
  const n = frames.length;
  const times = Float32Array.from(frames, (f) => f.seconds);
  const time = buffer.add(times, 'SCALAR', n, { min: [times[0]], max: [times[n - 1]] });
  const places = buffer.add(Float32Array.from(frames.flatMap((f) => [...f.place])), 'VEC3', n);
  const turns = buffer.add(Float32Array.from(quaternions(frames.map((f) => f.turn)).flat()), 'VEC4', n);
  return {
    name,
    samplers: [
      { input: time, output: places, interpolation: 'LINEAR' },
      { input: time, output: turns, interpolation: 'LINEAR' },
    ],
    channels: [
      { sampler: 0, target: { node, path: 'translation' } },
      { sampler: 1, target: { node, path: 'rotation' } },
    ],
    extras,
  };
}

/** Unit quaternions x, y, z, w, each the nearer of its two signs to the one before. */
export function quaternions(turns: readonly Rotation[]): number[][] {
  let before: number[] | null = null;
  return turns.map((turn) => {
    const [x, y, z] = vectorFromRotation(turn);
    const angle = Math.hypot(x, y, z);
    const s = angle < 1e-12 ? 0.5 : Math.sin(angle / 2) / angle;
    let q = [x * s, y * s, z * s, Math.cos(angle / 2)];
    if (before && q.reduce((sum, v, i) => sum + v * before![i]!, 0) < 0) q = q.map((v) => -v);
    before = q;
    return q;
  });
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** RFC 4648, section 4. */
function base64(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const n = (bytes[i]! << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    out +=
      LETTERS[n >> 18]! +
      LETTERS[(n >> 12) & 63]! +
      (i + 1 < bytes.length ? LETTERS[(n >> 6) & 63]! : '=') +
      (i + 2 < bytes.length ? LETTERS[n & 63]! : '=');
  }
  return out;
}
