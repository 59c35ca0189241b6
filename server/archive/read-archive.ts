import { existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { ArchivedShot, ArchiveManifest, ArchiveReply } from '../../core/base/schemas/types.ts';
import type { folders } from '../config.ts';
import { noteFinished } from '../database/finished-frames.ts';
import { run, transaction, type Database } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { insertLook } from '../database/looks.ts';
import { insertMedia, setCorrections, setLut, setMediaFailed } from '../database/media.ts';
import { createProject } from '../database/projects.ts';
import { storedPath } from '../media/uploads.ts';
import { beginShot, fillShot } from './archive-shot.ts';
import { restoreVersions } from './archive-versions.ts';
import { unpackArchive } from './unpack-archive.ts';
import { MANIFEST, PROJECT } from './write-archive.ts';

/**
 * Brings a project of an archive in, as a new one. Each part is held to its checksum: what is damaged or cut off is named and left out, what is
 * whole comes in. @throws Problem archive-unreadable when nothing can be made of it
 */
export async function readArchive(
  db: Database,
  file: string,
  folder: string,
  { media: mediaFolder, renders }: Pick<ReturnType<typeof folders>, 'media' | 'renders'>,
): Promise<ArchiveReply> {
  const sums = await unpackArchive(file, folder);
  const manifest = readManifest(folder, sums);
  const whole = new Set(manifest.parts.filter((part) => sums.get(part.file) === part.sha256).map((part) => part.file));
  const damaged = manifest.parts.filter((part) => !whole.has(part.file)).map((part) => part.what);
  if (!whole.has(PROJECT))
    throw new Problem('archive-unreadable', { why: 'the part that tells the project is damaged' });
  const project = checked('archivedProject', readJson(folder, PROJECT), 'the archived project');
  const shots = manifest.parts
    .filter((part) => part.file.startsWith('shots/') && whole.has(part.file))
    .flatMap((part): ArchivedShot[] => {
      try {
        return [checked('archivedShot', readJson(folder, part.file), part.what)];
      } catch {
        damaged.push(part.what);
        return [];
      }
    });
  for (const part of whole)
    if (part.startsWith('media/')) putInPlace(join(folder, part), storedPath(mediaFolder, part.slice('media/'.length)));
  const finished = new Set([...whole].filter((part) => FINISHED.test(part)));
  for (const part of finished)
    putInPlace(join(folder, part), join(renders, 'frames', basename(part).slice(0, 2), basename(part)));
  return transaction(db, async (connection) => {
    const missing: string[] = [];
    const projectId = await createProject(connection, project.name);
    const media = new Map<number, number>();
    const ids = new Map<number, number>();
    for (const medium of project.media) {
      const id = await insertMedia(connection, {
        projectId,
        name: medium.name,
        hash: medium.hash,
        bytes: medium.bytes,
      });
      media.set(medium.key, id);
      await setCorrections(connection, id, medium.corrections);
      if (medium.lut && existsSync(storedPath(mediaFolder, medium.lut.hash))) await setLut(connection, id, medium.lut);
      if (existsSync(storedPath(mediaFolder, medium.hash)))
        await insertJob(connection, { kind: 'bring-in', projectId, mediaId: id, params: {}, total: 0 });
      else {
        missing.push(medium.name);
        await setMediaFailed(
          connection,
          id,
          new Problem('archive-no-file', { name: medium.name }).sentence,
          'archive-no-file',
        );
      }
    }
    for (const shot of shots) ids.set(shot.key, await beginShot(connection, projectId, shot, media));
    for (const shot of shots) {
      const id = ids.get(shot.key)!;
      const variants = await fillShot(connection, id, shot, { media, shots: ids });
      await restoreVersions(connection, projectId, id, shot.versions ?? [], variants);
      for (const { file: name, variant, ...frame } of shot.finished ?? []) {
        const of = variant === undefined ? 0 : variants.get(variant);
        if (of !== undefined && finished.has(name)) await noteFinished(connection, id, of, frame);
      }
    }
    for (const { name, look } of project.looks) await insertLook(connection, projectId, name, look);
    await run(connection, 'UPDATE jobs SET changed = NEXT VALUE FOR change_number WHERE project_id = ?', [projectId]);
    return { projectId, shots: shots.length, media: project.media.length - missing.length, damaged, missing };
  });
}

/** Names of finished frames in an archive; nothing else of that folder is taken. */
const FINISHED = /^finished\/[0-9a-f]{64}\.(png|exr)$/;

function readManifest(folder: string, sums: ReadonlyMap<string, string>): ArchiveManifest {
  if (!sums.has(MANIFEST)) throw new Problem('archive-unreadable', { why: 'it has no manifest' });
  try {
    return checked('archiveManifest', readJson(folder, MANIFEST), 'the manifest');
  } catch (error) {
    throw new Problem(
      'archive-unreadable',
      { why: error instanceof Problem ? error.message.replace(/\.$/, '') : 'its manifest is damaged' },
      { cause: error },
    );
  }
}

function readJson(folder: string, file: string): unknown {
  return JSON.parse(readFileSync(join(folder, file), 'utf8')) as unknown;
}

function putInPlace(file: string, place: string): void {
  if (existsSync(place)) return rmSync(file);
  mkdirSync(dirname(place), { recursive: true });
  renameSync(file, place);
}
