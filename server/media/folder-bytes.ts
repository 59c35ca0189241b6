import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** What the files in a folder and below take; 0 when it isn't there. */
export function folderBytes(folder: string): number {
  if (!existsSync(folder)) return 0;
  let sum = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) sum += folderBytes(path);
    else if (entry.isFile()) sum += statSync(path, { throwIfNoEntry: false })?.size ?? 0;
  }
  return sum;
}
