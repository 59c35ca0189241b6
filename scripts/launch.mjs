// `npm run demo` and `npm start`: installs what is missing, builds the interface when it changed, starts the service.
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildInterface } from './build-interface.mjs';
import { buildKernels } from './build-kernels.mjs';
import { ensureDebian } from './ensure-debian.mjs';
import { ensurePackages } from './ensure-packages.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
ensurePackages(root);
ensureDebian(['mariadb-server', 'ffmpeg']);
buildInterface();
buildKernels();
const { loadProgram } = await import('./build-programs.mjs');
await loadProgram(join(root, 'server/start/main.ts'));
