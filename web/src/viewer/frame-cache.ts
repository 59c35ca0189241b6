import { frameUrl, type PictureSource } from '../api/urls.ts';

/** Keeps at most `limit` decoded pictures; the least recently asked for goes first. */
export class FrameCache {
  private readonly pictures = new Map<string, ImageBitmap>();
  private readonly loading = new Map<string, Promise<ImageBitmap>>();

  constructor(private readonly limit: number) {}

  async get(media: PictureSource, frame: number, kind: 'jpg' | 'png'): Promise<ImageBitmap> {
    const url = frameUrl(media, frame, kind);
    const there = this.pictures.get(url);
    if (there) {
      this.pictures.delete(url);
      this.pictures.set(url, there);
      return there;
    }
    const running = this.loading.get(url) ?? this.load(url);
    this.loading.set(url, running);
    return running;
  }

  private async load(url: string): Promise<ImageBitmap> {
    try {
      const response = await fetch(url);
      if (!response.ok) throw new Error(`The picture of this frame cannot be fetched (status ${response.status}).`);
      const picture = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none' });
      this.pictures.set(url, picture);
      while (this.pictures.size > this.limit) {
        const [oldest, bitmap] = this.pictures.entries().next().value!;
        this.pictures.delete(oldest);
        bitmap.close();
      }
      return picture;
    } finally {
      this.loading.delete(url);
    }
  }
}
