import { lightReader, type PlateColour } from '../../base/image/plate-colour.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import type { ContentPicture } from '../../base/image/picture.ts';
import type { Look, LookReason } from '../../base/schemas/types.ts';
import { quantile } from '../../base/image/statistics.ts';

/** The brightest share of a picture is looked at on about so many pixels. */
const BRIGHTEST = 0.985;
const LOOKED_AT = 40_000;
/** A proposal that the content does not suit is no surer than this. */
const UNSURE = 0.3;

/** Where the brightest 1.5 % of content begin, display-referred, 0…1, in the channel that is brightest there; 0 where it is all transparent. */
export function brightestOf({ width, height, data, peak }: ContentPicture, { transfer }: PlateColour): number {
  const read = lightReader(transfer, peak);
  const step = Math.max(1, Math.floor((width * height) / LOOKED_AT));
  const values: number[] = [];
  for (let i = 0; i < width * height; i += step) {
    if (data[4 * i + 3]! > 0) values.push(Math.max(data[4 * i]!, data[4 * i + 1]!, data[4 * i + 2]!));
  }
  if (values.length === 0) return 0;
  const code = quantile(values, BRIGHTEST);
  return lightToCode(Math.max(0, read(peak === 1 ? code : Math.round(code))));
}

/** Says, and is less sure, where content adds less to its lifted black than that black is: it will hardly be seen. `brightest` as of brightestOf. In place. */
export function tellDarkContent({ levels, why }: Look & { why: Record<string, LookReason> }, brightest: number): void {
  const black = levels?.black ?? 0;
  const white = levels?.white ?? 1;
  const there = why['levels/black'];
  if (typeof black !== 'number' || typeof white !== 'number' || !there || brightest * (white - black) >= black) return;
  why['levels/black'] = {
    ...there,
    certainty: Math.min(UNSURE, there.certainty),
    says: `${there.says} The content is darker than that: its brightest 1.5 % lie at ${Number(brightest.toFixed(3))}, so it will hardly be seen. Choose brighter content, or set black by hand.`,
  };
}
