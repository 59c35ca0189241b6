/**
 * Measures the Blend step on generated plates, three seeds, and writes it into docs/accuracy.md. `npm run accuracy:blend [-- part …]`: parts are measures, pin,
 * proposal, speed; each keeps its figures in .cache/blend, and the section is written from all that is there. Plates are made once into .cache/conditions.
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { writeSection } from '../document-section.ts';
import type { FigureRow } from './figure-row.ts';
import { measureFigures } from './measure-figures.ts';
import { pinFigures } from './pin-figures.ts';
import { smearSpeed } from './smear-speed.ts';
import { proposalFigures } from './proposal-figures.ts';

const PARTS: Readonly<Record<string, () => Promise<FigureRow[]>>> = {
  measures: () => Promise.resolve(measureFigures()),
  pin: () => pinFigures(),
  proposal: () => proposalFigures(),
  speed: () => smearSpeed(),
};
const cache = join(import.meta.dirname, '../../.cache/blend');
const file = (part: string) => join(cache, `${part}.json`);

// As it ships: with the compiled loops.
loadKernels();
mkdirSync(cache, { recursive: true });
const asked = process.argv.slice(2);
for (const [part, make] of Object.entries(PARTS))
  if (asked.length === 0 || asked.includes(part)) writeFileSync(file(part), JSON.stringify(await make()));
const rows = Object.keys(PARTS).flatMap((part) =>
  existsSync(file(part)) ? (JSON.parse(readFileSync(file(part), 'utf8')) as FigureRow[]) : [],
);

const told = ({ title, unit, digits, seeds, asked: limit, below }: FigureRow) => {
  const worst = below ? Math.max(...seeds) : Math.min(...seeds);
  const show = (v: number) => v.toFixed(digits);
  return `| ${title} | ${seeds.map(show).join(' / ')} ${unit} | ${limit === null ? '—' : `${below ? '≤' : '≥'} ${limit} ${unit}: ${(below ? worst <= limit : worst >= limit) ? 'reached' : 'not reached'}`} |`;
};
writeSection(
  join(import.meta.dirname, '../../docs/accuracy.md'),
  'blend',
  `## Blend

\`npm run accuracy:blend\`. Generated plates of 960×540 with noise; corners are exact unless said. PSNR is measured inside the surface's outline against the true
composite, which has no noise, over all frames, after one gain and one offset per channel fitted over the clip: no plate tells how bright the screen would have
been. The proposal is used as it comes, without a hand; its grain is off. The generator's pixel is a square and its lens a few weights; a pin's moments are looked at between two levels, which spreads as
much but is no square: what is left in text of a pixel's width. Tried: looks scattered over the pixel (4–11 codes), twice and four times as many moments (2–4), a quarter of the pixel (3–8), the patches of a still pin at each moment (7–9: their cubic kernel is sharper than a square).

| what | seeds 1 / 2 / 3 | asked |
|---|---|---|
${rows.map(told).join('\n')}
`,
);
