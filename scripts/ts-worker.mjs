// Entry of every worker thread: loads the module whose source is named in workerData.entry.
import { fileURLToPath } from 'node:url';
import { workerData } from 'node:worker_threads';
import { loadProgram } from './build-programs.mjs';

await loadProgram(fileURLToPath(workerData.entry));
