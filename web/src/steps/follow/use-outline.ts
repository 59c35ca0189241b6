/** What of a drawn outline says whether it counts. */
interface Usable {
  off?: boolean;
}

/** Uses an outline, or leaves it drawn and unused. */
export function useOutline(outline: Usable, on: boolean): void {
  if (on) delete outline.off;
  else outline.off = true;
}

/** Uses one outline alone; the others stay drawn. */
export function useAlone(outlines: readonly Usable[], index: number): void {
  outlines.forEach((outline, i) => useOutline(outline, i === index));
}

/** The outlines that could be used alone and are not. */
export function otherChoices(outlines: readonly Usable[]): number[] {
  const used = outlines.filter((outline) => !outline.off).length;
  return outlines.length < 2 ? [] : [...outlines.keys()].filter((index) => outlines[index]!.off || used > 1);
}
