import type { Quad } from '../core/base/geometry/quad.ts';
import type { CodedPicture } from '../core/base/image/picture.ts';
import { pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import type { Plate } from './plate.ts';

export interface NumberedFrame {
  readonly frame: number;
  readonly picture: CodedPicture;
  readonly quad: Quad;
}

/** Some frames of a plate, in the order asked for; those that it does not have are left out. All are held at once. */
export async function framesNumbered(
  plate: Plate,
  corners: ReadonlyMap<number, Quad>,
  frames: readonly number[],
): Promise<NumberedFrame[]> {
  const found = new Map<number, NumberedFrame>();
  await eachFrame(plate, frames, (frame, picture) => {
    found.set(frame, { frame, picture, quad: corners.get(frame)! });
  });
  return frames.flatMap((frame) => found.get(frame) ?? []);
}

/** Hands some frames of a plate over, in the plate's order, one at a time. */
export async function eachFrame(
  { source, facts }: Plate,
  frames: readonly number[],
  take: (frame: number, picture: CodedPicture) => void,
): Promise<void> {
  const wanted = new Set(frames);
  const last = Math.max(-1, ...wanted);
  let frame = -1;
  if (last < 0) return;
  for await (const bytes of decodeFrames(source, facts)) {
    frame++;
    if (wanted.has(frame)) take(frame, pictureFromRaw(Uint8Array.from(bytes), facts.layout));
    if (frame >= last) break;
  }
}
