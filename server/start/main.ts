import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { readConfig } from '../config.ts';
import { loadDemo } from '../demo/load-demo.ts';
import { startService } from './service.ts';

const root = join(import.meta.dirname, '../..');

/** Starts the service until Ctrl-C; returns the exit code. */
export async function main(args: string[]): Promise<number> {
  const demo = args.includes('--demo');
  try {
    const config = readConfig(process.env, join(root, demo ? 'data/demo' : 'data/own'));
    let stopAsked = false;
    const asked = new Promise<void>((resolve) => {
      for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
        process.on(signal, () => {
          stopAsked = true;
          resolve();
        });
    });
    const service = await startService(config);
    try {
      const loading = demo ? loadDemo(service.db, config) : Promise.resolve();
      await Promise.race([loading, asked]);
      // When it is broken off here, what it still does fails on the closed database; the next start carries on.
      loading.catch(() => {});
      if (!stopAsked && service.setUpCode !== null)
        console.log(`Nobody has an account yet. Make the owner’s at ${service.address}/sign-in#${service.setUpCode}`);
      if (!stopAsked) console.log(`Yarlop is ready at ${service.address} (Ctrl-C stops it)`);
      await asked;
      console.log('Stopping …');
    } finally {
      await service.stop();
    }
    return 0;
  } catch (error) {
    console.error(error instanceof Problem ? error.sentence : error);
    return 1;
  }
}

process.exitCode = await main(process.argv.slice(2));
