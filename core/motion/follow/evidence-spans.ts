import type { Evidence } from './ring-evidence.ts';

/** First and last of some neighbouring frames, and what was listened to on them. */
export type EvidenceSpan = readonly [first: number, last: number, evidence: Evidence];

/** What a run listened to on each frame that it held. */
export class EvidenceSpans {
  private readonly known = new Map<number, Evidence>();

  add(frame: number, evidence: Evidence): void {
    this.known.set(frame, evidence);
  }

  /** All of it, in the order of the frames. */
  frames(): [number, Evidence][] {
    return [...this.known].sort((a, b) => a[0] - b[0]);
  }

  state(): EvidenceSpan[] {
    const spans: [number, number, Evidence][] = [];
    for (const [frame, evidence] of this.frames()) {
      const last = spans.at(-1);
      if (last && last[1] === frame - 1 && last[2] === evidence) last[1] = frame;
      else spans.push([frame, frame, evidence]);
    }
    return spans;
  }

  restore(spans: readonly EvidenceSpan[]): void {
    for (const [first, last, evidence] of spans)
      for (let frame = first; frame <= last; frame++) this.known.set(frame, evidence);
  }
}
