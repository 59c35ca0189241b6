import type { ContentPicture } from '../../../core/base/image/picture.ts';
import { fetchPixels } from './fetch-pixels.ts';

/** Decoded pictures, kept up to so many bytes: a change of a value does not fetch and decode the content again. */
export class PicturesAtHand {
  private readonly kept = new Map<string, Promise<ContentPicture>>();
  private readonly sizes = new Map<string, number>();

  constructor(private readonly mostBytes: number) {}

  /** No wider than so many pixels. */
  get(url: string, widest = Infinity): Promise<ContentPicture> {
    const name = `${widest} ${url}`;
    const there = this.kept.get(name);
    if (there) return there;
    const made = fetchPixels(url, widest);
    this.kept.set(name, made);
    made.then(
      (picture) => this.hold(name, picture),
      () => this.kept.delete(name),
    );
    return made;
  }

  private hold(name: string, { data }: ContentPicture): void {
    this.sizes.set(name, data.byteLength);
    let bytes = [...this.sizes.values()].reduce((sum, size) => sum + size, 0);
    for (const [oldest, size] of this.sizes) {
      if (bytes <= this.mostBytes || oldest === name) break;
      this.sizes.delete(oldest);
      this.kept.delete(oldest);
      bytes -= size;
    }
  }
}
