/** Measures scene solves on generated halls, three seeds each. `npm run accuracy:scene [-- condition …]`. */
import { SCENE_CONDITIONS } from '../../demo/conditions/index.ts';
import { SEEDS } from '../../demo/make-conditions.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { hallFigures } from './hall-figures.ts';

loadKernels();
const only = process.argv.slice(2);
for (const { name } of SCENE_CONDITIONS.filter((c) => only.length === 0 || only.some((o) => o === c.name || o.startsWith(`${c.name}@`)))) {
  for (const seed of SEEDS.filter((s) => only.length === 0 || only.some((o) => !o.includes('@') || o === `${name}@${s}`))) {
    const { scene, off, focal, held, features, seconds } = await hallFigures(`${name}@${seed}`);
    const seen = off.filter(Number.isFinite), mean = seen.reduce((a, b) => a + b, 0) / seen.length;
    console.log(`${name}@${seed}`, scene.motion, scene.zooms ? 'zooms' : '', `mean ${mean.toFixed(3)} worst ${Math.max(...off).toFixed(2)} under 1: ${(off.filter((d) => d < 1).length / off.length).toFixed(3)}`, `focal ${(100 * focal).toFixed(2)} %`, `rms ${scene.rms.toFixed(3)} sigma ${scene.sigma.toFixed(3)}`, `share ${scene.share.toFixed(2)} points ${scene.points.length} of ${features}`, `bounds ${(100 * held).toFixed(0)} %`, Object.values(seconds).map((s) => s.toFixed(1)).join(' + '), scene.notes.join(' '));
  }
}
