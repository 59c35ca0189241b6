import { Worker } from 'node:worker_threads';
import type { ProblemCode } from '../../core/base/problem/catalogue.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type {
  FrontReply,
  LensFromBoards,
  LensFromLines,
  LensFromMap,
  LookReply,
  MarksReply,
  MatchReply,
  SnapReply,
} from '../../core/base/schemas/types.ts';
import type { BoardsTask, LensMapTask } from './lens-tasks.ts';
import type { DeskTask, FrontTask, LensTask, LookTask, MarksTask, MatchTask, SnapTask } from './seat-tasks.ts';

export type SeatAnswer = { readonly id: number } & (
  | { readonly value: unknown }
  | { readonly problem: ProblemCode; readonly values: Readonly<Record<string, string | number>> }
  | { readonly failed: string }
);

/** Small questions about a shot's pictures, answered at once by a thread that is kept: snapping a quad, matching a corner, proposing a key or a look. */
export class SeatWorker {
  private worker: Worker | null = null;
  private next = 1;
  private readonly waiting = new Map<number, { resolve: (value: never) => void; reject: (error: unknown) => void }>();

  snap(task: Omit<SnapTask, 'kind'>): Promise<SnapReply> {
    return this.ask({ kind: 'snap', ...task });
  }

  match(task: Omit<MatchTask, 'kind'>): Promise<MatchReply> {
    return this.ask({ kind: 'match', ...task });
  }

  front(task: Omit<FrontTask, 'kind'>): Promise<FrontReply> {
    return this.ask({ kind: 'front', ...task });
  }

  marks(task: Omit<MarksTask, 'kind'>): Promise<MarksReply> {
    return this.ask({ kind: 'marks', ...task });
  }

  lens(task: Omit<LensTask, 'kind'>): Promise<LensFromLines> {
    return this.ask({ kind: 'lens', ...task });
  }

  boards(task: Omit<BoardsTask, 'kind'>): Promise<LensFromBoards> {
    return this.ask({ kind: 'boards', ...task });
  }

  lensMap(task: Omit<LensMapTask, 'kind'>): Promise<LensFromMap> {
    return this.ask({ kind: 'lens-map', ...task });
  }

  look(task: Omit<LookTask, 'kind'>): Promise<LookReply> {
    return this.ask({ kind: 'look', ...task });
  }

  close(): void {
    void this.worker?.terminate();
    this.worker = null;
  }

  private ask<R>(task: DeskTask): Promise<R> {
    this.worker ??= this.begin();
    const id = this.next++;
    return new Promise<R>((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      this.worker!.postMessage({ id, task });
    });
  }

  private begin(): Worker {
    const worker = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), {
      workerData: { entry: new URL('./seat-thread.ts', import.meta.url).href },
    });
    worker.unref();
    worker.on('message', (answer: SeatAnswer) => {
      const asked = this.waiting.get(answer.id);
      this.waiting.delete(answer.id);
      if ('value' in answer) asked?.resolve(answer.value as never);
      else asked?.reject('problem' in answer ? new Problem(answer.problem, answer.values) : new Error(answer.failed));
    });
    const ended = (error: unknown) => {
      this.worker = null;
      for (const { reject } of this.waiting.values()) reject(error);
      this.waiting.clear();
    };
    worker.on('error', ended);
    worker.on('exit', (code) => ended(new Error(`the seat's thread ended with ${code}`)));
    return worker;
  }
}
