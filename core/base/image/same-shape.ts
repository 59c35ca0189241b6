interface Size {
  readonly width: number;
  readonly height: number;
}

/** Sides' ratios that differ by less than this share are the same: sizes are whole pixels. */
const NEARLY = 0.004;

/** Whether two pictures, whatever their sizes, are of one shape. */
export function sameShape(a: Size, b: Size): boolean {
  return Math.abs((a.width * b.height) / (a.height * b.width) - 1) < NEARLY;
}
