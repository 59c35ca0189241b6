import { shownAt } from '../content/content-time.ts';
import { wholeCrop, type Place } from '../content/content-fit.ts';
import type { ContentPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR, type PlateColour } from '../../base/image/plate-colour.ts';
import { buildContentPyramid, ContentPyramid } from './content-pyramid.ts';
import { levelsNow, type LevelsNow, type ResolvedLook } from '../look/look.ts';

/** Frames of content, in any order. */
export interface ContentSource {
  readonly frames: number;
  readonly rate: readonly [number, number];
  readonly colour?: PlateColour | undefined;
  picture(index: number): Promise<ContentPicture>;
}

type ContentLook = Pick<ResolvedLook, 'place' | 'levels' | 'time'>;
type LookOnFrame = Pick<ResolvedLook, 'place'> & { readonly levels: LevelsNow };

/** What of the content is on show on the plate's frames, ready to be laid on a surface. What was made last is kept. */
export class ShownContent {
  private kept: { key: string; pyramid: ContentPyramid }[] = [];

  /** `keep`: how many pyramids are kept. */
  constructor(
    private readonly source: ContentSource,
    private readonly plateRate: readonly [number, number],
    private readonly keep = 2,
  ) {}

  /** Null where nothing is shown. */
  async at(frame: number, keyed: ContentLook): Promise<ContentPyramid | null> {
    const look = { place: keyed.place, levels: levelsNow(keyed.levels, frame) };
    const shown = shownAt(keyed.time, frame, this.plateRate, this.source.rate, this.source.frames);
    if (!shown) return null;
    const { first, second, share } = shown;
    if (share === 0) return this.pyramid(`${first}`, look, async () => this.single(first, look));
    return this.pyramid(`${first}+${share.toFixed(4)}×${second}`, look, async () =>
      mixed(await this.single(first, look), await this.single(second, look), share),
    );
  }

  private async single(index: number, { levels, place }: LookOnFrame): Promise<ContentPyramid> {
    return buildContentPyramid(
      croppedPicture(await this.source.picture(index), place.crop),
      levels,
      this.source.colour ?? DISPLAY_COLOUR,
    );
  }

  private async pyramid(
    name: string,
    { levels, place }: LookOnFrame,
    make: () => Promise<ContentPyramid>,
  ): Promise<ContentPyramid> {
    const key = JSON.stringify([name, levels, place.crop ?? null]);
    const found = this.kept.find((one) => one.key === key);
    if (found) return found.pyramid;
    const pyramid = await make();
    this.kept = [{ key, pyramid }, ...this.kept].slice(0, this.keep);
    return pyramid;
  }
}

/** Two pictures of one size by their shares, in light. */
function mixed(one: ContentPyramid, other: ContentPyramid, share: number): ContentPyramid {
  const a = one.level(0);
  const b = other.level(0);
  const data = new Float32Array(a.data.length);
  for (let i = 0; i < data.length; i++) data[i] = a.data[i]! + share * (b.data[i]! - a.data[i]!);
  return new ContentPyramid({ width: a.width, height: a.height, data }, one.black);
}

/** What is left of a picture when its sides are cut off; the picture itself where nothing is. */
export function croppedPicture(picture: ContentPicture, crop: Place['crop']): ContentPicture {
  const [left, top, right, bottom] = wholeCrop(picture, crop);
  const width = right - left;
  const height = bottom - top;
  if (width === picture.width && height === picture.height) return picture;
  const data = picture.data.slice(0, width * height * 4);
  for (let row = 0; row < height; row++) {
    const from = ((top + row) * picture.width + left) * 4;
    data.set(picture.data.subarray(from, from + width * 4), row * width * 4);
  }
  return { width, height, data, peak: picture.peak };
}
