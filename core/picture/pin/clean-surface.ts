import type { ContentPyramid } from './content-pyramid.ts';

/** A surface as it was filmed, flattened: without what it mirrors and what stands before it. */
export interface CleanSurface {
  /** Its light on the frames that it was measured on, evened out to an exposure of 0 stops. */
  readonly pyramid: ContentPyramid;
}
