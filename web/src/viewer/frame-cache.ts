import { LRUCache } from 'lru-cache';
import { frameUrl, type PictureSource } from '../api/urls.ts';

/** So many pictures are fetched ahead at once. */
export const AT_ONCE = 3;

/** Keeps decoded pictures of at most `limitBytes`; the least recently asked for goes first. */
export class FrameCache {
  private readonly pictures: LRUCache<string, ImageBitmap>;
  private readonly loading = new Map<string, Promise<ImageBitmap>>();

  constructor(
    limitBytes: number,
    private readonly shrinkTo?: number,
  ) {
    this.pictures = new LRUCache({
      maxSize: limitBytes,
      // The newest stays whatever its size.
      sizeCalculation: ({ width, height }) => Math.min(limitBytes, width * height * 4),
      dispose: (picture) => picture.close(),
    });
  }

  /** A picture that is at hand already. */
  peek(media: PictureSource, frame: number, kind: 'jpg' | 'png'): ImageBitmap | null {
    return this.pictures.peek(frameUrl(media, frame, kind)) ?? null;
  }

  get(media: PictureSource, frame: number, kind: 'jpg' | 'png', stops = 0): Promise<ImageBitmap> {
    return this.at(frameUrl(media, frame, kind, stops));
  }

  /** The picture at an address that always means the same. */
  async at(url: string): Promise<ImageBitmap> {
    const there = this.pictures.get(url);
    if (there) return there;
    const running = this.loading.get(url) ?? this.load(url);
    this.loading.set(url, running);
    return running;
  }

  /** How many are on their way. */
  get busy(): number {
    return this.loading.size;
  }

  private async load(url: string): Promise<ImageBitmap> {
    try {
      const response = await fetch(url);
      if (!response.ok) throw new Error(await whyNot(response));
      const picture = await createImageBitmap(await response.blob(), {
        colorSpaceConversion: 'none',
        ...(this.shrinkTo === undefined ? {} : { resizeHeight: this.shrinkTo, resizeQuality: 'medium' as const }),
      });
      this.pictures.set(url, picture);
      return picture;
    } finally {
      this.loading.delete(url);
    }
  }
}

async function whyNot(response: Response): Promise<string> {
  const problem = (await response.json().catch(() => null)) as { message?: unknown; remedy?: unknown } | null;
  return typeof problem?.message === 'string'
    ? `${problem.message} ${typeof problem.remedy === 'string' ? problem.remedy : ''}`
    : `The picture of this frame cannot be fetched (status ${response.status}).`;
}
