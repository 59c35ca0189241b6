import { readdirSync, realpathSync, rmSync, statSync } from 'node:fs';
import { basename, extname, join, relative, resolve, sep } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ServerFolder } from '../../core/base/schemas/types.ts';
import { adoptFile, copyIn, type StoredFile } from './uploads.ts';
import { isPictureName } from './source.ts';
import { zipFiles } from './zip-files.ts';

/** The real path of something inside the allowed folder; links that lead out of it are refused. */
function inside(allowed: string | null, path: string): string {
  if (allowed === null) throw new Problem('no-server-folder');
  const root = realpathSync(allowed);
  let real: string;
  try {
    real = realpathSync(resolve(root, path.replace(/^\/+/, '')));
  } catch (error) {
    throw new Problem('file-missing', { file: path }, { cause: error });
  }
  if (real !== root && !real.startsWith(root + sep)) throw new Problem('outside-folder', { path });
  return real;
}

/** Files that may be plates, by their names; what they are is found out when they are taken. */
const FILM_ENDINGS = new Set([
  '.mp4',
  '.m4v',
  '.mov',
  '.mkv',
  '.webm',
  '.mxf',
  '.avi',
  '.mpg',
  '.mpeg',
  '.ts',
  '.mts',
  '.m2ts',
  '.y4m',
  '.nut',
  '.zip',
]);
const mayBePlate = (name: string): boolean => isPictureName(name) || FILM_ENDINGS.has(extname(name).toLowerCase());

/** Folders, films, zips and pictures in a folder below the allowed one. */
export function listServerFolder(allowed: string | null, path: string): ServerFolder {
  const real = inside(allowed, path);
  if (!statSync(real).isDirectory()) throw new Problem('file-missing', { file: path });
  const entries = readdirSync(real, { withFileTypes: true })
    .filter((e) => !e.name.startsWith('.') && (e.isDirectory() || (e.isFile() && mayBePlate(e.name))))
    .map((e) => ({
      name: e.name,
      folder: e.isDirectory(),
      bytes: e.isFile() ? statSync(join(real, e.name)).size : 0,
    }));
  entries.sort(
    (a, b) => Number(b.folder) - Number(a.folder) || a.name.localeCompare(b.name, undefined, { numeric: true }),
  );
  return { path: relative(realpathSync(allowed!), real), entries };
}

/** Takes a file, or a folder's pictures as one sequence, without an upload. */
export async function takeFromServer(
  allowed: string | null,
  path: string,
  places: { uploads: string; media: string },
): Promise<{ name: string; stored: StoredFile }> {
  const real = inside(allowed, path);
  const name = basename(real);
  if (!statSync(real).isDirectory()) return { name, stored: await copyIn(real, places.uploads, places.media, name) };
  const pictures = readdirSync(real)
    .filter((n) => !n.startsWith('.') && isPictureName(n))
    .sort();
  if (pictures.length === 0) throw new Problem('sequence-empty', { file: name });
  const temporary = join(places.uploads, `${process.pid}-${Date.now()}-${Math.random().toString(36).slice(2)}.part`);
  try {
    await zipFiles(
      temporary,
      pictures.map((picture) => ({ name: picture, file: join(real, picture) })),
    );
    return { name: `${name}.zip`, stored: await adoptFile(temporary, places.media, name) };
  } finally {
    rmSync(temporary, { force: true });
  }
}
