import { LRUCache } from 'lru-cache';
import type { ContentPicture } from '../../../core/base/image/picture.ts';
import { fetchPixels } from './fetch-pixels.ts';

/** Decoded pictures, kept up to so many bytes: a change of a value does not fetch and decode the content again. */
export class PicturesAtHand {
  private readonly kept: LRUCache<string, ContentPicture>;
  private readonly loading = new Map<string, Promise<ContentPicture>>();

  constructor(mostBytes: number) {
    this.kept = new LRUCache({
      maxSize: mostBytes,
      // The newest stays whatever its size.
      sizeCalculation: ({ data }) => Math.min(mostBytes, data.byteLength),
    });
  }

  /** No wider than so many pixels. */
  async get(url: string, widest = Infinity): Promise<ContentPicture> {
    const name = `${widest} ${url}`;
    const there = this.kept.get(name);
    if (there) return there;
    const running = this.loading.get(name) ?? this.load(name, url, widest);
    this.loading.set(name, running);
    return running;
  }

  private async load(name: string, url: string, widest: number): Promise<ContentPicture> {
    try {
      const picture = await fetchPixels(url, widest);
      this.kept.set(name, picture);
      return picture;
    } finally {
      this.loading.delete(name);
    }
  }
}
