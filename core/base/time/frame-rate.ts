/** "25 fps", "23.976 fps" */
export function decimalRate([n, d]: readonly [number, number]): string {
  return d === 1 ? `${n} fps` : `${(n / d).toFixed(3)} fps`;
}
