import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type { Point } from '../../../core/base/geometry/homography.ts';
import type { PointJudgements, PointRow, PointsRequest } from '../../../core/base/schemas/types.ts';
import type { PointFit } from '../../../core/motion/points/point-plan.ts';
import { framesOfPoints } from '../../../core/motion/splice/motion-sources.ts';
import { call } from '../api/client.ts';
import { fillHoles } from '../steps/follow/points/point-edits.ts';
import { handsBackAt, wayOn } from '../steps/follow/points/run-on.ts';
import { wantingLooks } from '../steps/follow/points/wanting-looks.ts';
import { useWorkspace } from './workspace.ts';
import { useDocument } from './document.ts';
import { isOpen, useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { usePlayhead } from './playhead.ts';
import { useSaving } from './saving.ts';
import { useShot } from './shot.ts';

/** The corner points: where each was found on each frame, how well its pattern holds, and how it is followed on. */
export const useCornerPoints = defineStore('corner-points', () => {
  const shot = useShot();
  const doc = useDocument();
  const saving = useSaving();
  const jobs = useJobs();
  const notices = useNotices();
  const workspace = useWorkspace();
  const head = usePlayhead();
  const rows = shallowRef<readonly PointRow[]>([]);
  const judged = shallowRef<PointJudgements>([]);
  let openFor: number | null = null;

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    if (id === undefined || !shot.plate || !(doc.document?.cornerPoints || doc.document?.handKeys)) {
      rows.value = [];
      return;
    }
    const found = await call('GET', `/shots/${id}/points`, 'pointRows');
    if (shot.shot?.id === id) rows.value = found.rows;
  }
  /** How well the points' patterns hold, as they were saved last. */
  async function judge(): Promise<void> {
    const id = shot.shot?.id;
    if (id === undefined || !shot.plate || !doc.document?.cornerPoints?.length || !(await saving.saved())) return;
    const found = await call('GET', `/shots/${id}/points/hold`, 'pointJudgements');
    if (shot.shot?.id === id) judged.value = found;
  }
  jobs.onJob((job) => {
    if (job.kind === 'points' && job.shotId === shot.shot?.id) void notices.guard(refresh);
  });
  watch(
    [() => shot.shot?.id, () => shot.plate?.id, () => doc.document?.referenceFrame],
    () => {
      if (shot.shot && openFor !== shot.shot.id) {
        openFor = shot.shot.id;
        judged.value = [];
      }
      void notices.guard(refresh);
    },
    { immediate: true },
  );

  const points = computed(() => (doc.document?.cornerPoints ?? []).filter((p) => !p.off));
  const frames = computed(() =>
    framesOfPoints(doc.document?.cornerPoints ?? [], rows.value, doc.document?.referenceFrame ?? 0),
  );
  function fitAt(name: string, frame: number): { fit: PointFit | null; why: string | null } | null {
    return frames.value.get(frame)?.get(name) ?? null;
  }
  /** Where a point is on a frame; where it is not known, by its nearest known frames. */
  function placeAt(name: string, frame: number): { at: Point; known: boolean } | null {
    const here = fitAt(name, frame)?.fit;
    if (here) return { at: here.at, known: true };
    for (let away = 1; away < shot.frames; away++) {
      const near = fitAt(name, frame - away)?.fit ?? fitAt(name, frame + away)?.fit;
      if (near) return { at: near.at, known: false };
    }
    return null;
  }
  /** Points and frames that want a look, the worst first. */
  const wanting = computed(() =>
    wantingLooks(
      frames.value,
      points.value.map((p) => p.name),
    ),
  );
  /** Points over which light was seen to sweep, uncompensated as they are set; with the first and last frame of it. */
  const lightWanted = computed(() => {
    const never = points.value.filter((p) => p.light === false).map((p) => p.name);
    const there = rows.value.filter((r) => r.lightWanted && never.includes(r.name));
    const at = there.map((r) => r.frame);
    return there.length === 0
      ? null
      : {
          names: never.filter((name) => there.some((r) => r.name === name)),
          span: [Math.min(...at), Math.max(...at)] as const,
        };
  });

  /** Follows points; what is followed anew counts again where it had been cleared. The job's number, or null where nothing could be begun. */
  async function follow(
    request: PointsRequest,
    names: readonly string[],
    span: [number, number],
  ): Promise<number | null> {
    if (points.value.some((p) => names.includes(p.name) && p.holes?.some(([a, b]) => a <= span[1] && b >= span[0])))
      doc.edit((draft) => fillHoles(draft, names, span));
    if (!shot.shot || !(await saving.saved())) return null;
    const job = await call('POST', `/shots/${shot.shot.id}/points`, 'apiJob', request);
    jobs.take(job);
    await refresh();
    return job.id;
  }
  /** A point that was put right by hand runs on from there; where it fails it is handed back: picked, and its frame on show. */
  async function runOn(name: string, frame: number): Promise<void> {
    const way = wayOn(frame, doc.document!.referenceFrame, shot.range);
    if (!way || shot.running) return;
    const id = await follow(
      { direction: way.direction, names: [name], frames: way.span, from: frame },
      [name],
      way.span,
    );
    const handBack = async (state: string) => {
      await refresh();
      const back = state === 'done' ? handsBackAt((f) => fitAt(name, f), way) : null;
      if (back === null) return;
      workspace.pickedPoints = [name];
      head.goTo(back);
    };
    const job = id === null ? undefined : jobs.jobs.get(id);
    if (!job) return;
    if (!isOpen(job)) return handBack(job.state);
    const done = jobs.onJob((now) => {
      if (now.id !== id || isOpen(now)) return;
      done();
      void notices.guard(() => handBack(now.state));
    });
  }
  return { rows, judged, points, frames, wanting, lightWanted, refresh, judge, fitAt, placeAt, follow, runOn };
});
