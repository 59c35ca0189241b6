import * as Comlink from 'comlink';
import type { SeatWorker } from './seat-worker.ts';

let worker: Comlink.Remote<SeatWorker> | null = null;

/** The worker that does what the Seat step asks for; begun when it is first asked. */
export function seatWorker(): Comlink.Remote<SeatWorker> {
  worker ??= Comlink.wrap<SeatWorker>(new Worker(new URL('./seat-worker.ts', import.meta.url), { type: 'module' }));
  return worker;
}
