import { useNotices } from '../stores/notices.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { moveReference } from './move-reference.ts';

/** Makes a frame the reference; what is drawn stays where it is seen. */
export function takeReference(frame: number): void {
  const h = useTrack().homographyAt(frame);
  useDocument().edit((draft) => {
    if (!moveReference(draft, frame, h))
      useNotices().add('The region would lie behind the camera on this frame. Choose a frame on which it is seen.');
  });
}
