import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { CornerBounds, SpliceJob } from '../core/base/schemas/types.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import { lostSpans } from '../core/motion/follow/lost-spans.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { spliceSpans, USUAL_FADE, type SpliceSpan } from '../core/motion/splice/splice-spans.ts';
import { named, note, writeWhole } from './options.ts';

export function writeSpliced(
  sources: readonly Source[],
  job: SpliceJob,
  where: string,
  out: string,
  lens: Lens | undefined,
): void {
  const parts: SpliceSpan[] = sources.map(({ job: { from, to }, quads }) => ({ from, to, quadAt: quads }));
  const { frames, joins, camera } = spliceSpans(parts, job.fade ?? USUAL_FADE, job.width, job.height);
  const reference =
    frames.find((f) => f.frame === job.referenceFrame)?.corners ??
    sources.map((s) => s.quads(job.referenceFrame)).find((q) => q !== null);
  if (!reference) throw new Problem('no-reference-corners', { where, frame: job.referenceFrame });
  const track = writeTrack(
    {
      pixelCentre: job.pixelCentre,
      width: job.width,
      height: job.height,
      rate: job.rate,
      referenceFrame: job.referenceFrame,
      corners: reference,
      lens,
    },
    frames.map(({ frame, corners, span }) => {
      const said = sources[span]!.said(frame);
      const homography = corners && homographyBetweenQuads(reference, corners);
      return homography
        ? {
            frame,
            homography,
            error: said.error,
            confidence: said.confidence,
            ...(said.note ? { note: said.note } : {}),
          }
        : { frame, homography: null, error: 0, confidence: 0, lost: said.lost ?? 'no source says anything of it' };
    }),
  );
  const byFrame = new Map(frames.map((f) => [f.frame, f]));
  const finished = track.frames.map((f) => {
    const at = byFrame.get(f.frame)!;
    const bound = sources[at.span]!.said(f.frame).bound;
    const other = at.fading && sources[at.fading.with]!.name;
    return f.corners
      ? {
          ...f,
          source:
            other !== null && other !== sources[at.span]!.name
              ? `${sources[at.span]!.name} + ${other}`
              : sources[at.span]!.name,
          ...(bound ? { bound: bound.map((b) => Number(b.toFixed(4))) as CornerBounds } : {}),
        }
      : f;
  });
  writeWhole(out, `${JSON.stringify({ ...track, frames: finished }, null, 1)}\n`);
  for (const join of joins)
    note(
      join.jump === null
        ? `the join at frame ${join.frame} cannot be measured: one side says nothing there.`
        : `join at frame ${join.frame}: a jump of ${join.jump.toFixed(2)} px${join.fade ? `, faded over frames ${join.fade[0]}-${join.fade[1]}` : ', not faded'}${camera ? '' : ' (corner by corner: no pose)'}.`,
    );
  for (const { frames: span, why } of lostSpans(track.frames, job.referenceFrame)) note(`${named(span)} lost: ${why}`);
}

export type JobSpan = SpliceJob['spans'][number];

/** A span with where its motion comes from. */
export interface Source {
  readonly job: JobSpan;
  readonly name: string;
  readonly quads: (frame: number) => Quad | null;
  readonly said: (frame: number) => {
    confidence: number;
    bound: readonly number[] | null;
    error: number;
    note?: string;
    lost?: string;
  };
}
