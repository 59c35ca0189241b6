/** The frame that is due `seconds` after frame `from` was shown, playing a span over and over at an exact rate. */
export function frameDue(
  from: number,
  seconds: number,
  rate: readonly [number, number],
  [first, last]: readonly [number, number],
): number {
  const length = last - first + 1;
  const passed = Math.floor((seconds * rate[0]) / rate[1] + 1e-6);
  return first + ((((from - first + passed) % length) + length) % length);
}
