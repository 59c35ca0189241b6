import type { DeliveryFormat, RenderLayer } from '../../../../core/base/schemas/types.ts';

/** Layers as a person reads them. */
export const LAYER_NAMES: Readonly<Record<RenderLayer, string>> = {
  full: 'finished picture',
  insert: 'insert, with alpha',
  matte: 'matte',
  clean: 'cleaned plate',
  flat: 'flattened surface',
  difference: 'what changed',
  card: 'test card',
};

/** Formats as a person reads them, with what is worth knowing of each. */
export const FORMAT_NAMES: Readonly<Record<Exclude<DeliveryFormat, 'frames'>, { name: string; note: string }>> = {
  h264: { name: 'H.264 film', note: 'MP4, 8 bit, 4:2:0, BT.709.' },
  hevc: { name: 'HEVC film', note: 'MP4, 10 bit from deeper plates, 4:2:0.' },
  vp9: { name: 'VP9 film', note: 'WebM, 10 bit from deeper plates, 4:2:0.' },
  av1: { name: 'AV1 film', note: 'MP4, 10 bit from deeper plates, 4:2:0.' },
  ffv1: { name: 'FFV1 film', note: 'Matroska, the codes themselves, without loss.' },
  png: { name: 'PNG, 8 bit', note: 'Numbered pictures; alpha straight.' },
  png16: { name: 'PNG, 16 bit', note: 'Numbered pictures; alpha straight.' },
  tiff: { name: 'TIFF, 16 bit', note: 'Numbered pictures; alpha straight.' },
  exr: { name: 'EXR, half float', note: 'Numbered pictures in linear light, BT.709 primaries; alpha premultiplied.' },
};
