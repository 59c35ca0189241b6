import { clamp } from '../../../../../core/base/geometry/clamp.ts';
import type { MotionSpan, ShotDocument } from '../../../../../core/base/schemas/types.ts';

export type SpanSource = MotionSpan['source'];

/** Gives frames of the motion a source: what lay there makes room. Without spans all frames were the followed region's. */
export function setSpan(
  draft: ShotDocument,
  from: number,
  to: number,
  source: SpanSource,
  last: number,
  shot?: number,
): void {
  const before = draft.spans ?? [{ from: 0, to: last, source: 'plane' as const }];
  const cut = before
    .flatMap((span) => [
      { ...span, to: Math.min(span.to, from - 1) },
      { ...span, from: Math.max(span.from, to + 1) },
    ])
    .filter((s) => s.from <= s.to)
    .filter((s, i, all) => all.findIndex((o) => o.from === s.from) === i);
  draft.spans = joined([...cut, { from, to, source, ...(shot === undefined ? {} : { shot }) }]);
  tidy(draft, last);
}

/** Two spans of one where a frame lies, so that either can have a source of its own. */
export function splitSpan(draft: ShotDocument, frame: number, last: number): void {
  const spans = draft.spans ?? [{ from: 0, to: last, source: 'plane' as const }];
  const at = spans.findIndex((s) => s.from < frame && frame <= s.to);
  if (at < 0) return;
  const span = spans[at]!;
  draft.spans = [...spans.slice(0, at), { ...span, to: frame - 1 }, { ...span, from: frame }, ...spans.slice(at + 1)];
}

/** Moves the join before a span; its neighbour gives or takes the frames, and neither becomes empty. */
export function moveJoin(draft: ShotDocument, index: number, frame: number): void {
  const spans = draft.spans;
  const span = spans?.[index];
  const before = spans?.[index - 1];
  if (!span || !before) return;
  const to = Math.min(span.to, Math.max(before.from + 1, frame));
  span.from = to;
  before.to = to - 1;
}

/** Moves a span as it is, by frames; its neighbours give and take, and none becomes empty. Returns by how many it has moved. */
export function moveSpan(draft: ShotDocument, index: number, by: number): number {
  const spans = draft.spans;
  const span = spans?.[index];
  const before = spans?.[index - 1];
  const after = spans?.[index + 1];
  if (!span || !before || !after) return 0;
  const touches = { before: before.to + 1 === span.from, after: span.to + 1 === after.from };
  const least = (touches.before ? before.from + 1 : before.to + 1) - span.from;
  const most = (touches.after ? after.to - 1 : after.from - 1) - span.to;
  const moved = clamp(by, least, most);
  span.from += moved;
  span.to += moved;
  if (touches.before) before.to = span.from - 1;
  if (touches.after) after.from = span.to + 1;
  return moved;
}

/** What lies before a join takes the source of what lies after it, and the other way round. */
export function swapSources(draft: ShotDocument, index: number): void {
  const a = draft.spans?.[index - 1];
  const b = draft.spans?.[index];
  if (!a || !b) return;
  const [first, second] = [{ ...a }, { ...b }];
  changeSource(draft, index - 1, second.source, second.shot);
  changeSource(draft, index, first.source, first.shot);
}

/** Takes a span away: the one before it, or else the one after it, reaches over. */
export function removeSpan(draft: ShotDocument, index: number, last: number): void {
  const spans = draft.spans;
  const span = spans?.[index];
  if (!span || !spans) return;
  if (spans[index - 1]) spans[index - 1]!.to = span.to;
  else if (spans[index + 1]) spans[index + 1]!.from = span.from;
  draft.spans = joined(spans.filter((_, i) => i !== index));
  tidy(draft, last);
}

export function changeSource(draft: ShotDocument, index: number, source: SpanSource, shot?: number): void {
  const span = draft.spans?.[index];
  if (!span) return;
  span.source = source;
  if (source === 'shot' && shot !== undefined) span.shot = shot;
  else delete span.shot;
}

/** In order, touching spans of one source made one. */
function joined(spans: readonly MotionSpan[]): MotionSpan[] {
  const out: MotionSpan[] = [];
  for (const span of [...spans].sort((a, b) => a.from - b.from)) {
    const before = out.at(-1);
    if (before && before.to + 1 === span.from && before.source === span.source && before.shot === span.shot)
      before.to = span.to;
    else out.push({ ...span });
  }
  return out;
}

/** One span of the region over all frames is what there is without any. */
function tidy(draft: ShotDocument, last: number): void {
  const [only, more] = draft.spans ?? [];
  if (!only || (!more && only.source === 'plane' && only.from === 0 && only.to >= last)) delete draft.spans;
}
