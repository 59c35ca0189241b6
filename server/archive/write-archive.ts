import { ZipArchive } from 'archiver';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, statSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import type { Writable } from 'node:stream';
import type { ArchivedProject, ArchiveManifest, Project, RenderLayer, Shot } from '../../core/base/schemas/types.ts';
import type { folders } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { listLooks } from '../database/looks.ts';
import { listMedia } from '../database/media.ts';
import { listShots } from '../database/shots.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { renderLedger } from '../send/ledger.ts';
import { partsOfFinished } from '../database/finished-frames.ts';
import { storedPath } from '../media/uploads.ts';
import { VERSION } from '../version.ts';
import { archivedShot } from './archive-shot.ts';
import { archivedVersions, finishedFile, framesOfVersions, type FrameToArchive } from './archive-versions.ts';

export const MANIFEST = 'manifest.json';
export const PROJECT = 'project.json';
export const shotFile = (key: number): string => `shots/${key}.json`;
export const mediaFile = (hash: string): string => `media/${hash}`;

const LAYERS: readonly RenderLayer[] = ['full', 'insert', 'matte', 'clean', 'flat', 'difference', 'card'];

/** Finished frames that show a shot as it is now, with where they lie. */
async function finishedOf(db: Database, shot: Shot, renders: string): Promise<FrameToArchive[]> {
  const out: FrameToArchive[] = [];
  for (const layer of LAYERS) {
    const { frames } = await renderLedger(db, shot, layer, renders);
    const done = frames.flatMap(({ state, key }, frame) => (state === 'done' && key ? [{ frame, key }] : []));
    const parts = await partsOfFinished(
      db,
      shot.id,
      layer,
      done.map((one) => one.key),
    );
    for (const { frame, key } of done) {
      const path = fileOfKey(renders, key);
      if (path && parts.has(key))
        out.push({ layer, frame, key, parts: parts.get(key)!, file: finishedFile(key, path), path });
    }
  }
  return out;
}

async function sha256Of(file: string): Promise<string> {
  const hasher = createHash('sha256');
  await pipeline(createReadStream(file), hasher);
  return hasher.digest('hex');
}

/**
 * Writes a whole project as one zip: the manifest first, with the checksum of each part, then project, shots and the files of its media. Without
 * `plates` files that shots use as plates are left out; a server that holds them finds them by their checksum. With `renders` the finished frames that
 * show the shots as they are now, or a version as it was, go along: their names tell what they depend on, so they are finished there too. Notes go along with the versions they are on.
 */
export async function writeArchive(
  db: Database,
  project: Project,
  places: Pick<ReturnType<typeof folders>, 'media' | 'renders'>,
  out: Writable,
  { plates = true, renders = false } = {},
): Promise<void> {
  const shots = await listShots(db, project.id);
  const media = await listMedia(db, project.id);
  const used = new Set(shots.map((shot) => shot.plate?.id));
  const parts: ArchiveManifest['parts'] = [];
  const texts = new Map<string, string>();
  const addText = (file: string, what: string, value: unknown) => {
    const text = JSON.stringify(value);
    texts.set(file, text);
    parts.push({ file, what, bytes: Buffer.byteLength(text), sha256: createHash('sha256').update(text).digest('hex') });
  };
  const archived: ArchivedProject = {
    name: project.name,
    media: media.map(({ id, name, hash, bytes, corrections, lut }) => ({
      key: id,
      name,
      hash,
      bytes,
      corrections,
      lut,
    })),
    looks: (await listLooks(db, project.id)).map(({ name, look }) => ({ name, look })),
  };
  addText(PROJECT, 'the project', archived);
  // Frames last: of an archive that is cut off they are what can be made again.
  const files = new Map<string, string>();
  const frames = new Map<string, string>();
  for (const shot of shots) {
    const archivedOne = await archivedShot(db, shot);
    const versions = await archivedVersions(db, shot.id, renders);
    const variants = new Set((archivedOne.variants ?? []).flatMap(({ key }) => key ?? []));
    // Those of now last: on the other side too they are the newest.
    const finished = renders
      ? [...framesOfVersions(versions, variants, places.renders), ...(await finishedOf(db, shot, places.renders))]
      : [];
    addText(shotFile(shot.id), shot.name, {
      ...archivedOne,
      ...(versions.length > 0 ? { versions } : {}),
      ...(renders ? { finished: finished.map(({ path: _, ...kept }) => kept) } : {}),
    });
    for (const { file, path, frame } of finished) {
      if (frames.has(file)) continue;
      frames.set(file, path);
      parts.push({
        file,
        what: `frame ${frame} of ${shot.name}`,
        bytes: statSync(path).size,
        sha256: await sha256Of(path),
      });
    }
  }
  for (const { id, name, hash, bytes, lut } of media) {
    if (!plates && used.has(id)) continue;
    for (const [one, what, size] of [
      [hash, name, bytes],
      ...(lut ? [[lut.hash, `the colour table ${lut.name}`, null]] : []),
    ] as [string, string, number | null][]) {
      const file = storedPath(places.media, one);
      if (files.has(mediaFile(one)) || !existsSync(file)) continue;
      files.set(mediaFile(one), file);
      parts.push({ file: mediaFile(one), what, bytes: size ?? 0, sha256: one });
    }
  }
  const manifest: ArchiveManifest = {
    format: 'yarlop-archive/1',
    madeBy: `Yarlop ${VERSION}`,
    madeAt: new Date().toISOString(),
    parts,
  };
  // Hardly packed, since pictures do not shrink; but as packed entries, which tell themselves where they end.
  const zip = new ZipArchive({ zlib: { level: 1 } });
  zip.pipe(out);
  zip.append(JSON.stringify(manifest, null, 1), { name: MANIFEST });
  for (const [file, text] of texts) zip.append(text, { name: file });
  for (const [name, file] of [...files, ...frames])
    zip.append(createReadStream(file, { highWaterMark: 1 << 20 }), { name });
  await zip.finalize();
}
