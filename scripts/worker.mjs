// `npm run worker`: more hands for a Yarlop that runs already, here or on another machine.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildKernels } from './build-kernels.mjs';
import { ensureDebian } from './ensure-debian.mjs';
import { ensurePackages } from './ensure-packages.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
ensurePackages(root);
ensureDebian(['ffmpeg']);
buildKernels();
const { loadProgram } = await import('./build-programs.mjs');
await loadProgram(join(root, 'server/start/worker.ts'));
