export type Span = [first: number, last: number];

/** Spans with one more, overlapping and touching ones made one. */
export function withSpan(spans: readonly Span[], added: Span): Span[] {
  const all = [...spans, added].map((s): Span => [...s]).sort((a, b) => a[0] - b[0]);
  const out: Span[] = [];
  for (const span of all) {
    const last = out.at(-1);
    if (last && span[0] <= last[1] + 1) last[1] = Math.max(last[1], span[1]);
    else out.push(span);
  }
  return out;
}

/** Spans without those frames. */
export function withoutSpan(spans: readonly Span[], [first, last]: Span): Span[] {
  return spans
    .flatMap(([a, b]): Span[] => [
      [a, Math.min(b, first - 1)],
      [Math.max(a, last + 1), b],
    ])
    .filter(([a, b]) => a <= b)
    .filter((s, i, all) => all.findIndex((o) => o[0] === s[0] && o[1] === s[1]) === i);
}

export function spanAt(spans: readonly Span[], frame: number): Span | null {
  return spans.find(([a, b]) => a <= frame && frame <= b) ?? null;
}
