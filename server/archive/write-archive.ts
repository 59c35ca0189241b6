import { ZipArchive } from 'archiver';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import type { Writable } from 'node:stream';
import type { ArchivedProject, ArchiveManifest, Project } from '../../core/schemas/types.ts';
import type { Database } from '../database/connection.ts';
import { listLooks } from '../database/looks.ts';
import { listMedia } from '../database/media.ts';
import { listShots } from '../database/shots.ts';
import { storedPath } from '../media/uploads.ts';
import { VERSION } from '../version.ts';
import { archivedShot } from './archive-shot.ts';

export const MANIFEST = 'manifest.json', PROJECT = 'project.json';
export const shotFile = (key: number): string => `shots/${key}.json`;
export const mediaFile = (hash: string): string => `media/${hash}`;

/**
 * Writes a whole project as one zip: the manifest first, with the checksum of each part, then project, shots and the files of its media. Without
 * `plates` files that shots use as plates are left out; a server that holds them finds them by their checksum.
 */
export async function writeArchive(db: Database, project: Project, mediaFolder: string, out: Writable, plates = true): Promise<void> {
  const shots = await listShots(db, project.id), media = await listMedia(db, project.id), used = new Set(shots.map((shot) => shot.plate?.id)), parts: ArchiveManifest['parts'] = [], texts = new Map<string, string>();
  const addText = (file: string, what: string, value: unknown) => {
    const text = JSON.stringify(value);
    texts.set(file, text);
    parts.push({ file, what, bytes: Buffer.byteLength(text), sha256: createHash('sha256').update(text).digest('hex') });
  };
  const archived: ArchivedProject = { name: project.name, media: media.map(({ id, name, hash, bytes, corrections, lut }) => ({ key: id, name, hash, bytes, corrections, lut })), looks: (await listLooks(db, project.id)).map(({ name, look }) => ({ name, look })) };
  addText(PROJECT, 'the project', archived);
  for (const shot of shots) addText(shotFile(shot.id), shot.name, await archivedShot(db, shot));
  const files = new Map<string, string>();
  for (const { id, name, hash, bytes, lut } of media) {
    if (!plates && used.has(id)) continue;
    for (const [one, what, size] of [[hash, name, bytes], ...(lut ? [[lut.hash, `the colour table ${lut.name}`, null]] : [])] as [string, string, number | null][]) {
      const file = storedPath(mediaFolder, one);
      if (files.has(one) || !existsSync(file)) continue;
      files.set(one, file);
      parts.push({ file: mediaFile(one), what, bytes: size ?? 0, sha256: one });
    }
  }
  const manifest: ArchiveManifest = { format: 'yarlop-archive/1', madeBy: `Yarlop ${VERSION}`, madeAt: new Date().toISOString(), parts };
  // Hardly packed, since pictures do not shrink; but as packed entries, which tell themselves where they end.
  const zip = new ZipArchive({ zlib: { level: 1 } });
  zip.pipe(out);
  zip.append(JSON.stringify(manifest, null, 1), { name: MANIFEST });
  for (const [file, text] of texts) zip.append(text, { name: file });
  for (const [hash, file] of files) zip.append(createReadStream(file, { highWaterMark: 1 << 20 }), { name: mediaFile(hash) });
  await zip.finalize();
}
