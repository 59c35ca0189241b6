import { keptFigures } from './kept-figures.ts';
import type { Look } from '../../core/base/schemas/types.ts';
import { SEEDS } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { followedCorners } from './own-track.ts';
import { blendPlate, measured, shotOf } from './blend-plate.ts';
import type { FigureRow } from './figure-row.ts';
import { compositeQuality } from './composite-psnr.ts';

const WHOLE = [
  { title: 'clean', name: 'clean', asked: 36 },
  { title: 'perspective (orbit, dark laptop)', name: 'orbit-laptop', asked: 34 },
  { title: 'bursts of blur', name: 'blur-bursts', asked: 32 },
  { title: 'covered by a hand', name: 'covered', asked: 31 },
  { title: 'screen lights up and goes off', name: 'lights-up', asked: 30 },
  { title: 'sweeping glare on dark glass', name: 'sweeping-glare', asked: 30 },
] as const;
/** Those in which the screen's reflections are what is measured. */
const REFLECTIONS = [
  { title: 'moving window in a dark screen, light ± 1 stop', name: 'dark-reflection', asked: 33 },
  { title: 'moving window in a green screen with markers', name: 'green-reflection', asked: 28 },
] as const;
/** On its own track, where following is measured too. */
const OWN = ['clean', 'orbit-laptop'] as const;

/** The whole proposal against the true composite, beside what the generator's own numbers reach in the same way. */
export async function proposalFigures(): Promise<FigureRow[]> {
  const rows: FigureRow[] = [];
  for (const { title, name, asked } of [...WHOLE, ...REFLECTIONS]) {
    const ours: number[] = [];
    const behind: number[] = [];
    for (const seed of SEEDS) {
      const { mine, best } = await keptFigures(`${name}@${seed}`, async () => {
        const plate = await blendPlate(`${name}@${seed}`);
        const { look } = measured(plate, plate.shot);
        const own = await compositeQuality(plate, plate.shot, look);
        console.log(name, seed, own.psnr.toFixed(1), 'worst frame', own.worst.toFixed(1));
        return { mine: own.psnr, best: (await compositeQuality(plate, plate.shot, trueLook(plate.truth, look))).psnr };
      });
      ours.push(mine);
      behind.push(best - mine);
      console.log(name, seed, mine.toFixed(1), 'true numbers', best.toFixed(1));
    }
    rows.push({ title: `whole proposal: ${title}`, unit: 'dB', digits: 1, seeds: ours, asked, below: false });
    if (WHOLE.some((one) => one.name === name))
      rows.push({
        title: `— behind the generator's true numbers by`,
        unit: 'dB',
        digits: 1,
        seeds: behind,
        asked: 2,
        below: true,
      });
  }
  for (const name of OWN) {
    const behind = { followed: [] as number[], locked: [] as number[] };
    for (const seed of SEEDS) {
      const figures = await keptFigures(`${name}@${seed}.own`, async () => {
        const plate = await blendPlate(`${name}@${seed}`);
        const tracks = await followedCorners(`${name}@${seed}`, plate.truth);
        const on = async (shot: typeof plate.shot) =>
          (await compositeQuality(plate, shot, measured(plate, shot).look)).psnr;
        return {
          exact: await on(plate.shot),
          followed: await on(shotOf(plate.truth, tracks.followed)),
          locked: await on(shotOf(plate.truth, tracks.locked)),
        };
      });
      for (const kind of ['followed', 'locked'] as const) behind[kind].push(figures.exact - figures[kind]);
      console.log(
        name,
        seed,
        'own track behind by',
        behind.followed.at(-1)!.toFixed(2),
        'locked',
        behind.locked.at(-1)!.toFixed(2),
      );
    }
    const row = (title: string, seeds: number[], asked: number): FigureRow => ({
      title: `whole proposal on its own track (${name}${title}), behind exact corners by`,
      unit: 'dB',
      digits: 2,
      seeds,
      asked,
      below: true,
    });
    rows.push(row(', followed only', behind.followed, 1), row(', locked to the borders in Seat', behind.locked, 1));
  }
  return rows;
}

/** The generator's numbers in place of the measured ones; what the proposal does, and follows, stays. */
function trueLook(truth: Truth, { keys, markers, spill, reflections, oldScreen, difference, exposure }: Look): Look {
  return {
    levels: truth.levels,
    soften: truth.softness,
    motionBlur: { shutter: truth.shutter, phase: 0 },
    ...(keys ? { keys } : {}),
    ...(markers ? { markers } : {}),
    ...(spill ? { spill } : {}),
    ...(reflections ? { reflections } : {}),
    ...(oldScreen ? { oldScreen } : {}),
    ...(difference ? { difference } : {}),
    ...(exposure ? { exposure } : {}),
  };
}
