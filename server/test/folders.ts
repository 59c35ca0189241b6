import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const ROOT = join(import.meta.dirname, '../..');
export const clipPath = (name: string): string => join(ROOT, 'demo/clips', name);

/** A folder that goes away with `remove`. */
export function temporaryFolder(): { path: string; remove: () => void } {
  const path = mkdtempSync(join(tmpdir(), 'yarlop-test-'));
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) };
}
