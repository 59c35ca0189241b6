import { clamp } from '../../core/base/geometry/clamp.ts';
import { basename } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import { MAKING } from '../../core/handoff/send/frame-parts.ts';
import { folders } from '../config.ts';
import { isDatabaseError, type Database } from '../database/connection.ts';
import { findJobToDo } from '../database/jobs.ts';
import {
  claimFrames,
  failFrame,
  finishFrame,
  giveBack,
  isMine,
  readPlan,
  type ClaimedFrames,
} from '../database/render-tasks.ts';
import { handIn, type FrameServer } from '../media/frame-server.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import type { FrameMaker } from '../send/frame-maker.ts';

/** A worker takes about so much work at a time, and never more than so many frames: what comes first may change. */
const CLAIM_MS = 1000;
const MOST_FRAMES = 16;
/** Until a disk has room again it is tried this often. */
const RETRY_MS = 5000;

/** One worker's part in renders: takes a few frames, makes them, takes the next. */
export class FrameWork {
  private maker: { jobId: number; maker: FrameMaker } | null = null;
  private perFrameMs = CLAIM_MS;

  constructor(
    private readonly db: Database,
    private readonly worker: string,
    private readonly dataFolder: string,
    private readonly report: (failed: { failed: number; error: string | undefined }) => void,
    private readonly frameServer: FrameServer | null = null,
  ) {}

  /** Makes the frames that come next. How long to wait before asking again, ms; null when no frame waits. */
  async some(): Promise<number | null> {
    const claimed = await claimFrames(
      this.db,
      this.worker,
      clamp(Math.round(CLAIM_MS / this.perFrameMs), 1, MOST_FRAMES),
    );
    if (!claimed) return null;
    let maker: FrameMaker;
    try {
      maker = await this.makerOf(claimed);
    } catch (error) {
      if (isDatabaseError(error)) throw error;
      if (error instanceof Problem && error.code === 'media-unreachable') {
        await giveBack(this.db, claimed.jobId, this.worker);
        return RETRY_MS;
      }
      // What hinders the making of one hinders all.
      for (const frame of claimed.frames)
        await failFrame(this.db, claimed.jobId, frame, this.worker, this.sentence(error, claimed.jobId));
      return 0;
    }
    for (const frame of claimed.frames) {
      if (!(await isMine(this.db, claimed.jobId, frame, this.worker))) {
        // Paused, stopped, or given to another: what was not begun goes back.
        await giveBack(this.db, claimed.jobId, this.worker);
        return 0;
      }
      const began = Date.now();
      try {
        const made = await maker.make(frame);
        // Handed in before it is reported as done: where it is reported, it is there.
        if (this.frameServer) for (const { key } of made) await this.handIn(this.frameServer, key);
        await finishFrame(this.db, claimed, frame, this.worker, made);
      } catch (error) {
        if (isDatabaseError(error)) throw error;
        if (error instanceof Problem && error.code === 'disk-full') {
          await giveBack(this.db, claimed.jobId, this.worker, `${error.message} The render goes on when there is.`);
          return RETRY_MS;
        }
        // A server that is being started again is waited for, as the database is.
        if (error instanceof Problem && error.code === 'media-unreachable') {
          await giveBack(this.db, claimed.jobId, this.worker);
          return RETRY_MS;
        }
        await failFrame(this.db, claimed.jobId, frame, this.worker, this.sentence(error, claimed.jobId));
      }
      this.perFrameMs = Math.max(1, Date.now() - began);
    }
    return 0;
  }

  private async makerOf({ jobId }: ClaimedFrames): Promise<FrameMaker> {
    if (this.maker?.jobId !== jobId) {
      this.maker = null;
      const job = await findJobToDo(this.db, jobId);
      if (job?.kind !== 'render') throw new Problem('not-found', { thing: 'render', id: jobId });
      const places = folders(this.dataFolder);
      const plan = await readPlan(this.db, jobId);
      if ((plan.making ?? 1) !== MAKING) throw new Problem('other-making');
      // Loaded with the first frame, so that a thread begins sooner.
      const [{ FrameMaker }, { PlanCompositor }] = await Promise.all([
        import('../send/frame-maker.ts'),
        import('../send/plan-compositor.ts'),
      ]);
      const compositor = await PlanCompositor.open(plan, { ...places, frameServer: this.frameServer });
      this.maker = { jobId, maker: new FrameMaker(compositor, job.params.layers, places.renders) };
    }
    return this.maker.maker;
  }

  private async handIn(frameServer: FrameServer, key: string): Promise<void> {
    const file = fileOfKey(folders(this.dataFolder).renders, key);
    if (file) await handIn(frameServer, basename(file), file);
  }

  private sentence(error: unknown, jobId: number): string {
    if (error instanceof Problem) return error.sentence;
    this.report({ failed: jobId, error: (error as Error).stack });
    return new Problem('internal', { id: `job ${jobId}` }).sentence;
  }
}
