// Runs a TypeScript module as a program: node scripts/run-ts.mjs FILE.ts [arguments].
import { register } from 'tsx/esm/api';
import { pathToFileURL } from 'node:url';

register();
await import(pathToFileURL(process.argv[2]).href);
