/** Patches up to so many pixels of a level wide are looked up there. */
const WIDEST = 2.8;
/** An oblique patch may be so many times longer than that the other way. */
const LONGEST = 4;

/** The level on which patches of a size are looked up. */
export function levelFor(su: number, sv: number, coarsest: number): number {
  const narrow = Math.max(Math.min(su, sv), Math.max(su, sv) / LONGEST);
  return narrow <= WIDEST ? 0 : Math.min(coarsest, Math.ceil(Math.log2(narrow / WIDEST)));
}
