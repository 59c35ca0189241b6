import { clamp } from '../../../../core/base/geometry/clamp.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';

/** Sets in and out, in frames from 0; the whole plate is no range at all. An in after the out pushes it along, and the other way round. */
export function setRange(from: number, to: number): void {
  const shot = useShot();
  const last = Math.max(0, shot.frames - 1);
  const within = (frame: number) => clamp(Math.round(frame), 0, last);
  const moving = within(from) !== shot.range[0];
  const first = within(moving ? from : Math.min(from, to));
  const end = within(moving ? Math.max(from, to) : to);
  useDocument().edit((document) => {
    if (first === 0 && end === last) delete document.range;
    else document.range = [first, end];
  });
}
