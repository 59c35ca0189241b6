import type { CodedPicture } from '../core/base/image/picture.ts';
import type { PlateColour } from '../core/base/image/plate-colour.ts';
import { changeLayer, insertLayer } from '../core/picture/composite/layer-pictures.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { openMatteFilm } from '../server/media/encode.ts';
import { FILM_FORMATS } from '../server/media/film-codecs.ts';
import type { LayerPicture } from '../server/media/layer-picture.ts';
import type { LayerSink, SinkChoices } from '../server/media/layer-sink.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import { readNumber } from './options.ts';

type Layer = 'full' | 'matte' | 'insert' | 'difference';
export type LayerSinks = ReadonlyMap<Layer, LayerSink>;

export function layerOf(
  layer: Layer,
  plate: CodedPicture,
  picture: CodedPicture,
  matte: Float32Array,
  colour: PlateColour,
): LayerPicture {
  switch (layer) {
    case 'full':
      return { kind: 'codes', picture };
    case 'matte':
      return { kind: 'share', width: plate.width, height: plate.height, share: matte };
    case 'insert':
      return { kind: 'light', picture: insertLayer(plate, picture, matte, colour) };
    case 'difference':
      return { kind: 'codes', picture: changeLayer(plate, picture) };
  }
}

/** A matte as a film of grey, which has no other colours to lose. */
export function matteFilm(out: string, facts: MediaFacts): LayerSink {
  const film = openMatteFilm(out, facts, facts.rate);
  return {
    write: (_, layer) =>
      film.write(layer.kind === 'share' ? layer.share : new Float32Array(facts.width * facts.height)),
    finish: () => film.finish(),
    abandon: () => film.abandon(),
  };
}

export function sinkChoices({
  codec,
  quality,
  crf,
  bits,
}: {
  codec?: string;
  quality?: string;
  crf?: string;
  bits?: string;
}): SinkChoices {
  const refuse = (field: string, value: string, known: readonly string[]) =>
    new Problem('bad-field', {
      where: 'the command',
      field,
      why: `is "${value}"; it must be one of ${known.join(', ')}`,
    });
  const format = FILM_FORMATS.find((one) => one === codec);
  const level = QUALITIES.find((one) => one === quality);
  if (codec !== undefined && !format) throw refuse('--codec', codec, FILM_FORMATS);
  if (quality !== undefined && !level) throw refuse('--quality', quality, QUALITIES);
  if (bits !== undefined && bits !== '8' && bits !== '16') throw refuse('--bits', bits, ['8', '16']);
  const factor = readNumber('crf', crf, 0, 63);
  return {
    ...(format ? { format } : {}),
    ...(level ? { quality: level } : {}),
    ...(factor === undefined ? {} : { crf: factor }),
    ...(bits === undefined ? {} : { bits: bits === '8' ? 8 : 16 }),
  };
}

const QUALITIES = ['small', 'good', 'best'] as const;
