import type { CodedPicture } from '../../base/image/picture.ts';

/**
 * Keeps what was worked out about a picture and does not change while content is worked on, so that it is found once. It goes with its picture, so that
 * nothing is held where every frame is composed once.
 */
export class KeptWithPicture<V> {
  private readonly kept = new WeakMap<CodedPicture, readonly { key: string; value: V }[]>();
  private recent: WeakRef<CodedPicture>[] = [];

  /** Of how many pictures, and how many values of each. */
  constructor(
    private readonly pictures: number,
    private readonly values: number,
  ) {}

  /** What is kept under a key that tells all it depends on beside the picture; made where it is not there. */
  get(picture: CodedPicture, key: string, make: () => V): V {
    const all = this.kept.get(picture) ?? [];
    const there = all.find((one) => one.key === key);
    if (there) return there.value;
    const value = make();
    this.kept.set(picture, [{ key, value }, ...all].slice(0, this.values));
    const others = this.recent.filter((ref) => ref.deref() !== picture);
    for (const ref of others.slice(this.pictures - 1)) {
      const old = ref.deref();
      if (old) this.kept.delete(old);
    }
    this.recent = [new WeakRef(picture), ...others.slice(0, this.pictures - 1)];
    return value;
  }
}

const numbers = new WeakMap<object, number>();
let last = 0;

/** A number by which an object that is never changed stands in a key. */
export function numberOf(object: object): number {
  const there = numbers.get(object);
  if (there !== undefined) return there;
  numbers.set(object, ++last);
  return last;
}
