import type { MeasuredFront } from '../look/look.ts';
import type { LookReason } from '../../base/schemas/types.ts';
import { reason } from './look-reason.ts';

/**
 * Why a key and spill are proposed, from which frames; `home` is the frame on which the device's own frame is determined. Empty where nothing is keyed.
 */
export function frontReasons(
  { keys: [key], markers, spill }: MeasuredFront,
  frames: readonly number[],
  home: number,
): { keys?: LookReason; spill?: LookReason } {
  if (!key) return {};
  const keys = reason(
    `The screen shows one colour: light ${key.colour.map((v) => Number(v.toFixed(3))).join(', ')}${markers.length > 0 ? `, with ${markers.length} marks on it` : ''}. Floor and ceiling are where clear screen ends and where what is in front is solid.`,
    0.9,
    frames,
  );
  if (!spill) return { keys };
  const device = spill.areas?.[0]?.shape;
  const also = device
    ? " The device's dark frame is an area of its own: all of the screen's colour there is its light."
    : '';
  const says =
    spill.window === undefined
      ? "Light of the screen's colour on what is near it becomes the content's, as far as it is seen on what crosses the screen."
      : `Nothing crosses the screen for its light to be seen on: only the rim around it, where a plate's colour bleeds${device ? ', and its frame become' : ', becomes'} the content's. Widen the window where it shines on more.`;
  return {
    keys,
    spill: {
      ...reason(`${says}${also}`, spill.window === undefined ? 0.7 : 0.5, [home]),
      ...(device ? { places: [{ frame: home, points: device.points }] } : {}),
    },
  };
}
