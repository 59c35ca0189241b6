import { readdirSync } from 'node:fs';
import { expect, test } from 'vitest';
import { golden, GOLDEN_FOLDER } from './golden.ts';
import { ANSWERS } from './golden-answers.ts';
import { loadOpenCv } from './opencv.ts';

// Should one fail, either the library or a case was changed: `npm run golden` writes the answers anew.
test('what is kept of the reference library’s answers is what it answers today', async () => {
  expect(
    readdirSync(GOLDEN_FOLDER)
      .map((file) => file.replace('.json', ''))
      .sort(),
  ).toEqual(Object.keys(ANSWERS).sort());
  const cv = await loadOpenCv();
  for (const [name, answer] of Object.entries(ANSWERS)) {
    const [kept, now] = [golden(name), answer(cv)];
    expect(kept, name).toHaveLength(now.length);
    const largest = Math.max(...now.map(Math.abs));
    expect(Math.max(...now.map((value, i) => Math.abs(value - kept[i]!))), name).toBeLessThan(1e-7 * largest);
  }
});
