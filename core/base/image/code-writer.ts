import type { CodedPicture } from './picture.ts';
import { isDisplayColour, lightWriter, type PlateColour } from './plate-colour.ts';
import { primariesMatrix } from './primaries.ts';
import { encodeLight } from './transfer.ts';

export type WriteLight = (at: number, r: number, g: number, b: number) => void;

/** Writes light of BT.709 primaries as a picture's codes, three from `at` on. */
export function codeWriter({ data, peak }: CodedPicture, colour: PlateColour): WriteLight {
  if (peak === 255 && isDisplayColour(colour)) return displayWriter(data as Uint8Array);
  const toCode = lightWriter(colour.transfer, peak);
  const m = primariesMatrix('bt709', colour.primaries);
  return (at, r, g, b) => {
    data[at] = toCode(m ? m[0] * r + m[1] * g + m[2] * b : r);
    data[at + 1] = toCode(m ? m[3] * r + m[4] * g + m[5] * b : g);
    data[at + 2] = toCode(m ? m[6] * r + m[7] * g + m[8] * b : b);
  };
}

/** The same for 8-bit display codes, as most pictures have: one function for all of them, which is what makes it quick. */
function displayWriter(data: Uint8Array): WriteLight {
  return (at, r, g, b) => {
    data[at] = (encodeLight(r) * 255 + 0.5) | 0;
    data[at + 1] = (encodeLight(g) * 255 + 0.5) | 0;
    data[at + 2] = (encodeLight(b) * 255 + 0.5) | 0;
  };
}
