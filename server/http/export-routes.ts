import { ZipArchive } from 'archiver';
import { Router, type Request, type Response } from 'express';
import {
  EXPORT_FORMATS,
  exportText,
  isTextFormat,
  shapesOf,
  TEXT_ENDINGS,
  type ExportSource,
} from '../../core/handoff/exchange/export-formats.ts';
import { shapesSvg } from '../../core/handoff/exchange/shapes-data.ts';
import { lensFromFile } from '../../core/handoff/exchange/lens-file.ts';
import { inverseStMap, stMap, stMapChannels, stMapNote } from '../../core/handoff/exchange/st-map.ts';
import { cornersByFrame } from '../../core/handoff/exchange/track-file.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { ExportChoices } from '../../core/base/schemas/types.ts';
import { flatSize } from '../../core/picture/composite/layer-pictures.ts';
import type { Database } from '../database/connection.ts';
import { findShot } from '../database/shots.ts';
import { exrFile } from '../media/exr-file.ts';
import { exportSource } from '../send/export-source.ts';
import { importTrack } from '../send/import-track.ts';
import { refuseWhileRunning } from '../use-cases/refuse-while-running.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';
import { fileNameOf, numberedPicture } from '../../core/handoff/send/file-pattern.ts';

/** Most frames that are written into one archive of maps in one go. */
const MOST_MAPS = 20_000;

/** A shot's data to hand on, texts and archives of a file a frame; and data that somebody else has made. */
export function exportRoutes(db: Database): Router {
  const router = Router();
  router.get('/shots/:id/export/:format', async (req, res) => {
    const format = String(req.params.format);
    if (!(EXPORT_FORMATS as readonly string[]).includes(format))
      throw new Problem('not-found', { thing: 'format', id: format });
    const shot = found(await findShot(db, rowNumber(req, 'id')), 'shot', rowNumber(req, 'id'));
    const choices = choicesOf(req);
    const source = await exportSource(db, shot, choices.picture);
    const name = fileNameOf(shot.name);
    if (isTextFormat(format)) {
      const text = exportText(source, format, choices);
      const ending = TEXT_ENDINGS[format];
      // A page is handed over as a file: it must not run here.
      res
        .attachment(`${name}${ending}`)
        .type(format === 'css-html' ? 'application/octet-stream' : ending.slice(ending.lastIndexOf('.')))
        .send(Buffer.from(text));
    } else
      await sendFrames(
        res,
        format === 'shapes-svg' ? shapeFiles(source, name) : mapFiles(source, name, choices, req),
        `${name}.${format}.zip`,
      );
  });
  route(router, 'post', '/shots/:id/import', { body: 'importRequest', reply: 'importReply' }, async ({ id, body }) => {
    const shot = found(await findShot(db, id()), 'shot', id());
    await refuseWhileRunning(db, shot.id);
    return importTrack(db, shot, body);
  });
  return router;
}

interface FrameFile {
  readonly name: string;
  readonly bytes: Buffer;
}

async function sendFrames(res: Response, files: Iterable<FrameFile>, name: string): Promise<void> {
  // The first is made before anything is sent, so that what is wrong can still be reported.
  const each = files[Symbol.iterator]();
  const first = each.next();
  const zip = new ZipArchive({ store: true });
  res.attachment(name);
  zip.pipe(res);
  for (let next = first; !next.done && !res.destroyed; next = each.next()) {
    const written = new Promise<void>((resolve) => zip.once('entry', () => resolve()));
    zip.append(next.value.bytes, { name: next.value.name, date: new Date(1980, 0, 1) });
    await written;
  }
  await zip.finalize();
}

function* shapeFiles(source: ExportSource, name: string): Generator<FrameFile> {
  const shapes = shapesOf(source);
  for (const frame of framesOf(source))
    yield {
      name: numberedPicture(name, frame + (source.track.firstFrameNumber ?? 0), '.svg'),
      bytes: Buffer.from(shapesSvg(shapes, frame)),
    };
}

function* mapFiles(source: ExportSource, name: string, { y }: ExportChoices, req: Request): Generator<FrameFile> {
  const { track } = source;
  const lens = lensFromFile(track.lens, track.pixelCentre);
  const corners = cornersByFrame(track);
  const overscan = wholeNumber(req, 'overscan', 0, 4096);
  const bits = wholeNumber(req, 'bits', 32, 32) === 16 ? 16 : 32;
  const inverse = req.query.inverse === 'yes';
  const home = corners.get(track.referenceFrame) ?? [...corners.values()][0];
  const size = source.contentSize ?? (home ? flatSize(home) : { width: track.width, height: track.height });
  for (const frame of framesOf(source)) {
    const quad = corners.get(frame) ?? null;
    const map = inverse
      ? inverseStMap(quad, size, track, { overscan, y, lens })
      : stMap(quad, track, { overscan, y, lens });
    yield {
      name: numberedPicture(`${name}.${inverse ? 'inverse-' : ''}st`, frame + (track.firstFrameNumber ?? 0), '.exr'),
      bytes: exrFile(map.width, map.height, stMapChannels(map), bits, {
        rate: track.rate,
        overscan,
        comments: stMapNote(track, inverse, y),
      }),
    };
  }
}

function framesOf({ track, range }: ExportSource): number[] {
  return track.frames
    .map((row) => row.frame)
    .filter((frame) => !range || (frame >= range[0] && frame <= range[1]))
    .sort((a, b) => a - b)
    .slice(0, MOST_MAPS);
}

function wholeNumber(req: Request, name: string, usual: number, most: number): number {
  const text = req.query[name];
  if (text === undefined) return usual;
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > most)
    throw new Problem('bad-field', {
      where: 'the address',
      field: name,
      why: `is not a whole number from 0 to ${most}`,
    });
  return value;
}

const NUMBERS: readonly string[] = ['decimals'];
const OTHERS: readonly string[] = ['overscan', 'bits', 'inverse'];

/** Choices as the address names them: `?y=up&decimals=3&shutter=180,0`. */
function choicesOf(req: Request): ExportChoices {
  const given = Object.entries(req.query)
    .filter(([name]) => !OTHERS.includes(name))
    .map(([name, value]): [string, unknown] => {
      const text = typeof value === 'string' ? value : '';
      if (name === 'frameBase') return [name, text === 'plate' ? text : Number(text)];
      if (name === 'corrections') return [name, text === 'yes' ? true : text === 'no' ? false : text];
      if (name === 'shutter')
        return [name, { angle: Number(text.split(',')[0]), phase: Number(text.split(',')[1] ?? 0) }];
      return [name, NUMBERS.includes(name) ? Number(text) : text];
    });
  return checked('exportChoices', Object.fromEntries(given), 'the address');
}
