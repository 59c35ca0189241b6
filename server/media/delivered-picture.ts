import { clamp } from '../../core/base/geometry/clamp.ts';
import { resize } from '../../core/base/image/resize.ts';
import { createCodes, type CodedPicture } from '../../core/base/image/picture.ts';
import {
  displayPicture,
  DISPLAY_COLOUR,
  lightOfPicture,
  type PlateColour,
} from '../../core/base/image/plate-colour.ts';
import { encodeLight } from '../../core/base/image/transfer.ts';
import { codesOfLight } from '../../core/picture/composite/layer-pictures.ts';
import type { ExrChannel } from './exr-file.ts';
import type { IntegerPicture } from './write-integers.ts';
import { channelsOf, type LayerPicture } from './layer-picture.ts';

/** A layer at another size; pictures are resampled in light. */
export function scaled(layer: LayerPicture, scale: number, colour: PlateColour): LayerPicture {
  if (scale === 1) return layer;
  const from =
    layer.kind === 'share'
      ? { width: layer.width, height: layer.height }
      : { width: layer.picture.width, height: layer.picture.height };
  const to = {
    width: Math.max(1, Math.round(from.width * scale)),
    height: Math.max(1, Math.round(from.height * scale)),
  };
  switch (layer.kind) {
    case 'share':
      return { kind: 'share', ...to, share: resize(layer.share, 1, from, to) };
    case 'light':
      return { kind: 'light', picture: { ...to, data: resize(layer.picture.data, 4, from, to) } };
    case 'codes':
      return {
        kind: 'codes',
        picture: {
          ...to,
          peak: layer.picture.peak,
          data: codesOfLight(resize(lightOfPicture(layer.picture, colour), 3, from, to), 3, colour, layer.picture.peak),
        },
      };
  }
}

/** A layer as integer codes: the plate's own, or those of a display where the plate has floats. */
export function asCodes(layer: LayerPicture, colour: PlateColour, deep: boolean): IntegerPicture {
  const peak = deep ? 65535 : 255;
  switch (layer.kind) {
    case 'codes':
      return { ...sizeOf(layer.picture), channels: 3, peak, data: ofDepth(layer.picture, colour, peak) };
    case 'share': {
      const data = newCodes(peak, layer.share.length);
      for (let i = 0; i < data.length; i++) data[i] = clamp(layer.share[i]!, 0, 1) * peak + 0.5;
      return { width: layer.width, height: layer.height, channels: 1, peak, data };
    }
    case 'light': {
      const { data: light } = layer.picture;
      const straight = new Float32Array((light.length / 4) * 3);
      const data = newCodes(peak, light.length);
      for (let i = 0; i < light.length / 4; i++)
        for (let c = 0; c < 3; c++)
          straight[3 * i + c] = light[4 * i + 3]! > 0 ? Math.max(0, light[4 * i + c]! / light[4 * i + 3]!) : 0;
      const codes = codesOfLight(straight, 3, colour, peak);
      for (let i = 0; i < light.length / 4; i++) {
        for (let c = 0; c < 3; c++) data[4 * i + c] = codes[3 * i + c]!;
        data[4 * i + 3] = clamp(light[4 * i + 3]!, 0, 1) * peak + 0.5;
      }
      return { ...sizeOf(layer.picture), channels: 4, peak, data };
    }
  }
}

const sizeOf = ({ width, height }: { width: number; height: number }) => ({ width, height });
const newCodes = (peak: 255 | 65535, length: number): Uint8Array | Uint16Array =>
  peak === 255 ? new Uint8Array(length) : new Uint16Array(length);

function ofDepth(picture: CodedPicture, colour: PlateColour, peak: 255 | 65535): Uint8Array | Uint16Array {
  if (picture.peak === peak) return picture.data as Uint8Array | Uint16Array;
  const data = newCodes(peak, picture.data.length);
  if (picture.peak === 1) {
    if (peak === 255) return displayPicture(picture, colour).data as Uint8Array;
    const light = lightOfPicture(picture, colour);
    for (let i = 0; i < data.length; i++) data[i] = encodeLight(light[i]!) * peak + 0.5;
  } else if (peak === 255) for (let i = 0; i < data.length; i++) data[i] = (picture.data[i]! + 128) / 257;
  else for (let i = 0; i < data.length; i++) data[i] = picture.data[i]! * 257;
  return data;
}

/** Codes of a film: three a pixel; a matte is grey, and what an insert leaves free is black. */
export function filmCodes({ width, height, channels, peak, data }: IntegerPicture): CodedPicture {
  if (channels === 3) return { width, height, peak, data };
  const out = createCodes(peak, 3 * width * height);
  for (let i = 0; i < width * height; i++)
    for (let c = 0; c < 3; c++)
      out[3 * i + c] = channels === 1 ? data[i]! : (data[4 * i + c]! * data[4 * i + 3]!) / peak;
  return { width, height, peak, data: out };
}

/** A layer as channels of an EXR: light of BT.709 primaries, premultiplied where there is alpha; a matte as the one channel Y. */
export function asChannels(
  layer: LayerPicture,
  colour: PlateColour,
): { width: number; height: number; channels: ExrChannel[] } {
  switch (layer.kind) {
    case 'share':
      return { width: layer.width, height: layer.height, channels: [{ name: 'Y', values: layer.share }] };
    case 'light':
      return { ...sizeOf(layer.picture), channels: channelsOf(layer.picture.data, 4) };
    case 'codes':
      return { ...sizeOf(layer.picture), channels: channelsOf(lightOfPicture(layer.picture, colour), 3) };
  }
}

/** What integers made from a layer mean. */
export function colourOfCodes(layer: LayerPicture, colour: PlateColour): PlateColour {
  return layer.kind === 'codes' && layer.picture.peak === 1 ? DISPLAY_COLOUR : colour;
}
