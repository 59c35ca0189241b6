/** Writes what takes long to make and tests compare with: the reference library's answers, and true composites of demo shots. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { ANSWERS } from '../bench/reference/golden-answers.ts';
import { loadOpenCv } from '../bench/reference/opencv.ts';
import { drawComposite } from '../demo/draw-composite.ts';
import { COMPOSED, compositeFile, COMPOSITES } from '../e2e/support/true-composite.ts';
import { GOLDEN_FOLDER } from '../bench/reference/golden.ts';

const cv = await loadOpenCv();
mkdirSync(GOLDEN_FOLDER, { recursive: true });
for (const [name, answer] of Object.entries(ANSWERS)) {
  const values = answer(cv).map((value) => Number(value.toPrecision(8)));
  writeFileSync(join(GOLDEN_FOLDER, `${name}.json`), `${JSON.stringify(values)}\n`);
}
mkdirSync(COMPOSITES, { recursive: true });
for (const [name, frame] of COMPOSED) {
  const { width, height, data } = await drawComposite(name, frame);
  await sharp(data, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 9 })
    .toFile(compositeFile(name, frame));
}
