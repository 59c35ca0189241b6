import type { CheckRow, ReferenceProposal } from '../../base/schemas/types.ts';

/** Mean codes from here to here are neither dark nor washed out. */
const LIT = { from: 0.18, to: 0.75 };
/** How much being at the very end of the shot costs. */
const EDGE_COST = 0.25;

/**
 * The frame to begin from: sharp, well lit, without smear, flash or cut, and rather in the middle, so that
 * following goes equally far both ways. Null for a plate without frames.
 */
export function proposeReference(
  rows: readonly CheckRow[],
  range: readonly [number, number] = [0, rows.length - 1],
): ReferenceProposal | null {
  let best: { row: CheckRow; score: number } | null = null;
  for (const row of rows.slice(range[0], range[1] + 1)) {
    const score = scoreOf(row, range);
    if (!best || score > best.score) best = { row, score };
  }
  // Where no smear could be determined at all, nothing is said about it.
  const told = rows.some((row) => row.blur > 0);
  return best && { frame: best.row.frame, reasons: reasonsFor(best.row, range, told) };
}

function scoreOf(row: CheckRow, [first, last]: readonly [number, number]): number {
  const middle = (first + last) / 2;
  const half = Math.max(1, (last - first) / 2);
  const aside = Math.abs(row.frame - middle) / half;
  return (
    ((row.flash || row.cut ? 0.2 : 1) *
      Math.min(1, row.sharpness) *
      litness(row.exposure) *
      (1 - EDGE_COST * aside * aside)) /
    (1 + row.blur / 10)
  );
}

function litness(exposure: number): number {
  if (exposure < LIT.from) return Math.max(0.1, exposure / LIT.from);
  return exposure > LIT.to ? Math.max(0.1, (1 - exposure) / (1 - LIT.to)) : 1;
}

function reasonsFor(row: CheckRow, [first, last]: readonly [number, number], told: boolean): string[] {
  const share = last > first ? (row.frame - first) / (last - first) : 0.5;
  return [
    `${Math.round(100 * Math.min(1, row.sharpness))} % as sharp as the sharpest`,
    ...(told ? [row.blur >= 1 ? `blur ${row.blur.toFixed(1)} px` : 'no blur to speak of'] : []),
    litness(row.exposure) === 1 ? `well lit (mean ${row.exposure.toFixed(2)})` : `mean ${row.exposure.toFixed(2)}`,
    share > 0.3 && share < 0.7 ? 'near the middle' : share <= 0.3 ? 'in the first third' : 'in the last third',
  ];
}
