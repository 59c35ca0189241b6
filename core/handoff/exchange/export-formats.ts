import { Problem } from '../../base/problem/problem.ts';
import type { ExportChoices, Look, SceneFile, TrackFile } from '../../base/schemas/types.ts';
import { cornersCsv, cornersJson, cornersText } from './corner-data.ts';
import { cssPage } from './css-page.ts';
import { ChosenFrames } from './export-choices.ts';
import { gltf } from './gltf.ts';
import { roomGltf, type RoomParts } from './room-gltf.ts';
import { homographyCsv, homographyJson } from './homography-data.ts';
import { otio } from './otio.ts';
import { shapesJson, ShapesOnFrames } from './shapes-data.ts';
import { straightTrack } from './straight-track.ts';
import { transformCsv, transformJson } from './transform-data.ts';

/** Formats that are one text. */
export const TEXT_FORMATS = [
  'corners-csv',
  'corners-json',
  'corners-text',
  'homography-csv',
  'homography-json',
  'transform-csv',
  'transform-json',
  'css-html',
  'otio',
  'gltf',
  'shapes-json',
] as const;
export type TextFormat = (typeof TEXT_FORMATS)[number];
/** Formats that are a file a frame. */
export const SEQUENCE_FORMATS = ['st-map', 'shapes-svg'] as const;
export type SequenceFormat = (typeof SEQUENCE_FORMATS)[number];
export type ExportFormat = TextFormat | SequenceFormat;
export const EXPORT_FORMATS: readonly ExportFormat[] = [...TEXT_FORMATS, ...SEQUENCE_FORMATS];

/** File endings of the texts. */
export const TEXT_ENDINGS: Readonly<Record<TextFormat, string>> = {
  'corners-csv': '.corners.csv',
  'corners-json': '.corners.json',
  'corners-text': '.corners.txt',
  'homography-csv': '.homography.csv',
  'homography-json': '.homography.json',
  'transform-csv': '.transform.csv',
  'transform-json': '.transform.json',
  'css-html': '.html',
  otio: '.otio',
  gltf: '.gltf',
  'shapes-json': '.shapes.json',
};

export function isTextFormat(format: string): format is TextFormat {
  return (TEXT_FORMATS as readonly string[]).includes(format);
}

/** What is handed on, and what some formats tell besides. */
export interface ExportSource {
  readonly name: string;
  readonly track: TrackFile;
  readonly look?: Look | undefined;
  /** How the plate and the content are called where a file refers to them. */
  readonly plate?: string | undefined;
  readonly content?: string | undefined;
  readonly contentSize?: { readonly width: number; readonly height: number } | undefined;
  readonly range?: readonly [number, number] | undefined;
  readonly frames?: number | undefined;
  readonly focal?: number | undefined;
  readonly ratio?: number | undefined;
  /** The solved room that the surface stands in, for glTF. */
  readonly room?: ({ readonly file: SceneFile } & Omit<RoomParts, 'name'>) | undefined;
}

/** A track in one of the open formats. Unless chosen otherwise, coordinates keep the track's own pixel convention. @throws Problem no-pose, no-shapes */
export function exportText(source: ExportSource, format: TextFormat, choices: ExportChoices = {}): string {
  const { track, name, plate = 'plate.mp4' } = source;
  const chosen = new ChosenFrames(track, choices);
  switch (format) {
    case 'corners-csv':
      return cornersCsv(chosen);
    case 'corners-json':
      return cornersJson(chosen);
    case 'corners-text':
      return cornersText(chosen);
    case 'homography-csv':
      return homographyCsv(chosen);
    case 'homography-json':
      return homographyJson(chosen);
    case 'transform-csv':
      return transformCsv(chosen);
    case 'transform-json':
      return transformJson(chosen);
    case 'css-html':
      return cssPage(chosen, {
        title: name,
        plate,
        content: source.content ?? 'content.png',
        size: source.contentSize,
      });
    case 'otio':
      return otio(track, { name, target: plate, range: source.range, frames: source.frames });
    case 'gltf': {
      // Its cameras know no lens.
      const { room } = source;
      const text = room
        ? roomGltf(room.file, { name, ...room })
        : gltf(new ChosenFrames(straightTrack(track), choices), { name, focal: source.focal, ratio: source.ratio });
      if (!text) throw new Problem('no-pose', { name });
      return text;
    }
    case 'shapes-json':
      return shapesJson(shapesOf(source));
  }
}

/** The shapes that stand in front. @throws Problem no-shapes */
export function shapesOf({ name, track, look }: ExportSource): ShapesOnFrames {
  const shapes = new ShapesOnFrames(track, look ?? {});
  if (shapes.shapes.length === 0) throw new Problem('no-shapes', { name });
  return shapes;
}
