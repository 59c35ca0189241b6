/** How fast something comes along, over the last seconds. */
export class TransferRate {
  private readonly points: { at: number; done: number }[] = [];
  private static readonly WINDOW_MS = 6000;

  /** `at` in milliseconds, `done` in bytes so far. */
  add(at: number, done: number): void {
    this.points.push({ at, done });
    while (this.points.length > 2 && at - this.points[0]!.at > TransferRate.WINDOW_MS) this.points.shift();
  }

  /** Bytes a second; null while too little is known. */
  get perSecond(): number | null {
    const first = this.points[0];
    const last = this.points.at(-1);
    if (!first || !last || last.at - first.at < 400) return null;
    return ((last.done - first.done) * 1000) / (last.at - first.at);
  }
}

/** "12.4 MB/s, 3 min left" */
export function transferWords(perSecond: number | null, left: number): string {
  if (perSecond === null || perSecond <= 0) return '';
  const seconds = left / perSecond;
  const time =
    seconds > 5400
      ? `${(seconds / 3600).toFixed(1)} h`
      : seconds > 90
        ? `${Math.round(seconds / 60)} min`
        : `${Math.max(1, Math.round(seconds))} s`;
  return `${byteWords(perSecond)}/s, ${time} left`;
}

export function byteWords(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let value = bytes;
  let unit = 0;
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000;
    unit++;
  }
  return `${value >= 100 || unit === 0 ? Math.round(value) : value.toFixed(1)} ${units[unit]}`;
}
