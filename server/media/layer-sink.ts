import { mkdirSync } from 'node:fs';
import { basename, dirname, extname } from 'node:path';
import { peakOf } from '../../core/base/image/raw-frame.ts';
import type { DeliverySettings } from '../../core/base/schemas/types.ts';
import type { FilmFormat } from '../../core/handoff/send/file-pattern.ts';
import { asChannels, asCodes, colourOfCodes, filmCodes } from './delivered-picture.ts';
import { numberedName, openFilm, type FrameSink } from './encode.ts';
import { writeExrFile } from './exr-file.ts';
import type { MediaFacts } from './facts.ts';
import type { LayerPicture } from './layer-picture.ts';
import { fitsHalf } from './write-exr.ts';
import { writeIntegers } from './write-integers.ts';

/** Where a layer's frames go, in order. */
export interface LayerSink {
  write(frame: number, layer: LayerPicture): Promise<void>;
  finish(): Promise<void>;
  abandon(): Promise<void>;
}

export interface SinkChoices extends Pick<DeliverySettings, 'quality' | 'crf'> {
  readonly format?: FilmFormat | undefined;
  /** Bits of PNG; as many as the plate has unless given. */
  readonly bits?: 8 | 16 | undefined;
}

/** Whether a name stands for numbered pictures. */
export const isNumbered = (out: string): boolean => /%0?\d*d/.test(basename(out));

/** A sink by its name: numbered PNG, TIFF or EXR, or a film by its ending. */
export function openLayerSink(out: string, facts: MediaFacts, choices: SinkChoices = {}): LayerSink {
  return isNumbered(out) ? numbered(out, facts, choices) : film(out, facts, choices);
}

function numbered(out: string, facts: MediaFacts, { bits }: SinkChoices): LayerSink {
  const ending = extname(out).toLowerCase();
  const deep = ending === '.tif' || (bits ?? (peakOf(facts.layout) === 65535 ? 16 : 8)) === 16;
  mkdirSync(dirname(out), { recursive: true });
  return {
    async write(frame, layer) {
      const file = numberedName(out, frame + facts.firstFrameNumber);
      if (ending !== '.exr') return writeIntegers(file, asCodes(layer, facts.colour, deep));
      const { width, height, channels } = asChannels(layer, facts.colour);
      // Floats that came in are handed on as they are, in as many bits as they need.
      const exact =
        layer.kind === 'codes' && layer.picture.peak === 1 && !channels.every(({ values }) => fitsHalf(values));
      writeExrFile(file, width, height, channels, exact ? 32 : 16, {
        rate: facts.rate,
        pixelAspect: facts.pixelAspect[0] / facts.pixelAspect[1],
      });
    },
    finish: async () => {},
    abandon: async () => {},
  };
}

function film(out: string, facts: MediaFacts, { format, quality, crf }: SinkChoices): LayerSink {
  const deep = peakOf(facts.layout) === 65535;
  let open: FrameSink | null = null;
  return {
    async write(frame, layer) {
      const codes = filmCodes(asCodes(layer, facts.colour, deep));
      // Its size and what its codes mean are known with the first picture.
      open ??= openFilm(
        out,
        { width: codes.width, height: codes.height, peak: codes.peak },
        { ...facts, colour: colourOfCodes(layer, facts.colour) },
        { format, ...(quality ? { quality } : {}), ...(crf === undefined ? {} : { crf }) },
      );
      await open.write(frame, codes);
    },
    finish: async () => open?.finish(),
    abandon: async () => open?.abandon(),
  };
}
