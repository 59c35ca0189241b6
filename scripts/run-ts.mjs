// Runs a program of this project in a process of its own: node scripts/run-ts.mjs FILE.ts [arguments].
import { loadProgram } from './build-programs.mjs';

await loadProgram(process.argv[2]);
