/**
 * Timecode of SMPTE ST 12-1: hours, minutes, seconds and frames. A semicolon before the frames marks
 * drop-frame counting, which at 30000/1001 and 60000/1001 leaves out the first two (four) numbers of each
 * minute but every tenth, so that the numbers keep up with the clock.
 */
export interface Timecode {
  /** Frames since 00:00:00:00. */
  count: number;
  drop: boolean;
}

/** Whole frames that a second is counted in. */
const nominal = (rate: readonly [number, number]): number => Math.round(rate[0] / rate[1]);
const droppedPerMinute = (fps: number): number => Math.round(fps / 15);

/** Null when the text is not a timecode at this rate. */
export function parseTimecode(text: string, rate: readonly [number, number]): Timecode | null {
  const match = /^(\d{1,2}):(\d{2}):(\d{2})([:;.])(\d{2,3})$/.exec(text.trim());
  if (!match) return null;
  const fps = nominal(rate);
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number) as [
    number,
    number,
    number,
    number,
  ];
  if (minutes > 59 || seconds > 59 || frames >= fps) return null;
  const drop = match[4] !== ':' && (fps === 30 || fps === 60);
  const total = ((hours * 60 + minutes) * 60 + seconds) * fps + frames;
  const wholeMinutes = hours * 60 + minutes;
  return { count: drop ? total - droppedPerMinute(fps) * (wholeMinutes - Math.floor(wholeMinutes / 10)) : total, drop };
}

/** A day has no more than 24 hours: after them counting begins again. */
export function formatTimecode({ count, drop }: Timecode, rate: readonly [number, number]): string {
  const fps = nominal(rate);
  const left = droppedPerMinute(fps);
  const day = 24 * 3600 * fps - (drop ? left * (1440 - 144) : 0);
  let n = ((count % day) + day) % day;
  if (drop) {
    const tenMinutes = 600 * fps - 9 * left;
    const minute = 60 * fps - left;
    const tens = Math.floor(n / tenMinutes);
    const rest = n % tenMinutes;
    n += 9 * left * tens + (rest >= 60 * fps ? left * (1 + Math.floor((rest - 60 * fps) / minute)) : 0);
  }
  const two = (value: number) => String(value).padStart(2, '0');
  return `${two(Math.floor(n / (3600 * fps)))}:${two(Math.floor(n / (60 * fps)) % 60)}:${two(Math.floor(n / fps) % 60)}${drop ? ';' : ':'}${String(n % fps).padStart(fps > 100 ? 3 : 2, '0')}`;
}
