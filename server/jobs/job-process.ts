import { pino } from 'pino';
import { startWorkers, type WorkerSettings } from './worker-threads.ts';

/**
 * The process in which jobs run: a thread for each worker. It ends when the server that started it is
 * gone, however that came about, so that nobody works on behind its back.
 */
export interface JobProcessSettings extends WorkerSettings {
  logLevel: string;
}

const settings = JSON.parse(process.argv.at(-1)!) as JobProcessSettings;

process.on('disconnect', () => process.exit(0));
process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => {});

await startWorkers(settings, pino({ level: settings.logLevel, base: { part: 'jobs' } }));
