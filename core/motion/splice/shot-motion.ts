import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { MotionSpan, NineNumbers, ShotDocument, TrackRow } from '../../base/schemas/types.ts';
import { spliceSpans, USUAL_FADE, type Join } from './splice-spans.ts';
import { type Source, NOTHING, boundsOf, rowsSource, pointsSource, keyedSource } from './motion-sources.ts';
import type { MotionSources } from './motion-sources.ts';

export interface ShotMotion {
  readonly rows: TrackRow[];
  readonly joins: readonly Join[];
  /** Why keyed corners are not posed; null where they are, or are not used. */
  readonly why: string | null;
}

/**
 * A shot's rows as its spans make them: each frame's map leads from the reference frame's corners to where the span's source puts them, joins cross-faded. Without
 * spans they are the followed region's. Nothing is copied: sources that change, change this.
 */
export function shotMotion(
  document: ShotDocument,
  runKey: string,
  sources: MotionSources,
  width: number,
  height: number,
): ShotMotion {
  const corners = document.corners as Quad | null;
  const spans = [...(document.spans ?? [])].sort((a, b) => a.from - b.from);
  if (spans.length === 0 || !corners) return { rows: [...sources.plane], joins: [], why: null };
  const keyed = keyedSource(document, sources, width, height);
  const by = new Map<string, Source>();
  const sourceOf = (span: MotionSpan, index: number): Source => {
    const key = `${span.source}/${span.shot ?? ''}${span.source === 'hold' ? index : ''}`;
    if (!by.has(key))
      by.set(
        key,
        span.source === 'keys'
          ? keyed.source
          : span.source === 'points'
            ? pointsSource(document, sources.points, corners)
            : span.source === 'hold'
              ? held(index)
              : rowsSource(
                  span.source === 'shot'
                    ? (sources.shots.get(span.shot ?? 0) ?? [])
                    : span.source === 'scene'
                      ? (sources.scene ?? [])
                      : sources.plane,
                  corners,
                ),
      );
    return by.get(key)!;
  };
  const held = (index: number): Source => {
    const before = spans[index - 1];
    const after = spans[index + 1];
    const from = before ? sourceOf(before, index - 1) : after ? sourceOf(after, index + 1) : null;
    const at = before ? before.to : (after?.from ?? 0);
    const quad = from?.quadAt(at) ?? null;
    return {
      quadAt: () => quad,
      said: () =>
        quad
          ? {
              confidence: 0.5,
              error: null,
              blur: 0,
              note: `held as on the ${before ? 'frame before' : 'frame after'}`,
              lost: null,
              bounds: undefined,
            }
          : NOTHING,
    };
  };
  const parts = spans.map((span, i) => ({ span, source: sourceOf(span, i) }));
  const { frames, joins } = spliceSpans(
    parts.map(({ span: { from, to }, source: { quadAt, reach } }) => ({
      from,
      to,
      quadAt: (frame) =>
        reach && (frame < Math.min(from, reach[0]) || frame > Math.max(to, reach[1])) ? null : quadAt(frame),
    })),
    document.fade ?? USUAL_FADE,
    width,
    height,
  );
  const rows = frames.map(({ frame, corners: quad, span, fading }): TrackRow => {
    const {
      source,
      span: { source: name },
    } = parts[span]!;
    const { certainty = null, bounds, ...said } = source.said(frame);
    const map = quad && homographyBetweenQuads(corners, quad);
    const other = fading && parts[fading.with]!.span.source;
    const from = other !== null && other !== name ? `${name} + ${other}` : name;
    if (!map)
      return {
        frame,
        runKey,
        homography: null,
        certainty: null,
        source: from,
        ...said,
        lost: said.lost ?? NOTHING.lost,
      };
    return {
      frame,
      runKey,
      homography: [...map] as NineNumbers,
      certainty: fading ? null : certainty,
      source: from,
      ...((bounds ?? (fading ? boundsOf(source, frame, corners) : undefined))
        ? { bounds: bounds ?? boundsOf(source, frame, corners)! }
        : {}),
      ...said,
      lost: null,
    };
  });
  return { rows, joins, why: spans.some((s) => s.source === 'keys') ? keyed.why : null };
}
