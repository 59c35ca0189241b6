// Entry of every worker thread: registers the TypeScript loader there (loaders are not inherited by
// threads), then loads the module named in workerData.entry.
import { register } from 'tsx/esm/api';
import { workerData } from 'node:worker_threads';

register();
await import(workerData.entry);
