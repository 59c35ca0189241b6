/** A moment as a day that nobody reads the wrong way round: the month in letters. */
export function dayWords(moment: string): string {
  return new Date(moment).toLocaleDateString(undefined, { day: 'numeric', month: 'short', year: 'numeric' });
}
