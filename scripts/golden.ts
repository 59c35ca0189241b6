/** Writes the reference library's answers, which tests of core compare ours with. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ANSWERS } from '../bench/reference/golden-answers.ts';
import { loadOpenCv } from '../bench/reference/opencv.ts';
import { GOLDEN_FOLDER } from '../bench/reference/golden.ts';

const cv = await loadOpenCv();
mkdirSync(GOLDEN_FOLDER, { recursive: true });
for (const [name, answer] of Object.entries(ANSWERS)) {
  const values = answer(cv).map((value) => Number(value.toPrecision(8)));
  writeFileSync(join(GOLDEN_FOLDER, `${name}.json`), `${JSON.stringify(values)}\n`);
}
