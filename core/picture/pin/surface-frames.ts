import type { CodedPicture } from '../../base/image/picture.ts';

/** A surface over a shot, laid flat. */
export interface UsualSurface {
  /** As most frames show it: of each place and channel the median of the codes, which is the code of the median light. What passes over the surface, or shines on it from another place on every frame, is not in it. */
  readonly picture: CodedPicture;
  /** The frames that it is measured from, at the same size. */
  readonly frames: readonly FlatFrame[];
}

export interface FlatFrame {
  readonly picture: CodedPicture;
  /** 1 where the picture shows the place. */
  readonly seen: Uint8Array;
}
