import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';

/** Sets in and out, in frames from 0; the whole plate is no range at all. An in after the out pushes it along, and the other way round. */
export function setRange(from: number, to: number): void {
  const shot = useShot();
  const last = Math.max(0, shot.frames - 1);
  const clamp = (frame: number) => Math.min(last, Math.max(0, Math.round(frame)));
  const moving = clamp(from) !== shot.range[0];
  const first = clamp(moving ? from : Math.min(from, to));
  const end = clamp(moving ? Math.max(from, to) : to);
  useDocument().edit((document) => {
    if (first === 0 && end === last) delete document.range;
    else document.range = [first, end];
  });
}
