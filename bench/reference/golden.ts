import { readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where the reference library's answers are kept; `npm run golden` writes them, bench/reference/golden.test.ts checks that the library still gives them. */
export const GOLDEN_FOLDER = join(import.meta.dirname, 'golden');

/** What the reference library (OpenCV 4.12, its JavaScript build) answers to a case of golden-cases.ts. */
export function golden(name: string): number[] {
  return JSON.parse(readFileSync(join(GOLDEN_FOLDER, `${name}.json`), 'utf8')) as number[];
}
