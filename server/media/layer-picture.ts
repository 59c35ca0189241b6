import type { CodedPicture, LightPicture } from '../../core/base/image/picture.ts';
import type { ExrChannel } from './exr-file.ts';

/** A layer of a frame as it is kept: codes of the plate's kind, premultiplied light, or shares 0…1. */
export type LayerPicture =
  | { readonly kind: 'codes'; readonly picture: CodedPicture }
  | { readonly kind: 'light'; readonly picture: LightPicture }
  | { readonly kind: 'share'; readonly width: number; readonly height: number; readonly share: Float32Array };

/** Channels of an EXR in the order of our pixels. */
export const CHANNEL_NAMES = ['R', 'G', 'B', 'A'] as const;

/** Interleaved values as channels of an EXR. */
export function channelsOf(data: Float32Array, count: 3 | 4): ExrChannel[] {
  return CHANNEL_NAMES.slice(0, count).map((name, c) => ({
    name,
    values: Float32Array.from({ length: data.length / count }, (_, i) => data[count * i + c]!),
  }));
}
