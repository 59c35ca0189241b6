// `npm run demo` and `npm start`: installs what is missing, builds the interface when it changed, starts the service.
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildInterface } from './build-interface.mjs';
import { buildKernels } from './build-kernels.mjs';
import { ensureDebian } from './ensure-debian.mjs';
import { ensurePackages } from './ensure-packages.mjs';

ensurePackages(dirname(dirname(fileURLToPath(import.meta.url))));
ensureDebian(['mariadb-server', 'ffmpeg']);
buildInterface();
buildKernels();
const { register } = await import('tsx/esm/api');
register();
await import('../server/start/main.ts');
