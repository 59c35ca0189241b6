/** Milliseconds from one frame to the next at a rate, as a fraction; 25 a second where none is known. */
export function frameMilliseconds([n, d]: readonly [number, number] = [25, 1]): number {
  return (1000 * d) / n;
}
