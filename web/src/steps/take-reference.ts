import type { useNotices } from '../stores/notices.ts';
import type { useShot } from '../stores/shot.ts';
import { moveReference } from './move-reference.ts';

/** Makes a frame the reference; what is drawn stays where it is seen. */
export function takeReference(
  shot: ReturnType<typeof useShot>,
  notices: ReturnType<typeof useNotices>,
  frame: number,
): void {
  const h = shot.homographyAt(frame);
  shot.edit((draft) => {
    if (!moveReference(draft, frame, h))
      notices.add('The region would lie behind the camera on this frame. Choose a frame on which it is seen.');
  });
}
