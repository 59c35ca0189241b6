import type { Framing, GuestFraming, ShotDocument } from '../../base/schemas/types.ts';

/** A shot's document as a row of the table of contents shows it: its content and how that lies and runs, all else kept. What the row does not say is the shot's own. */
export function variantDocument(
  document: ShotDocument,
  mediaId: number | null,
  { fit, place, time }: Framing,
): ShotDocument {
  const { board: _board, ...look } = document.look;
  return {
    ...document,
    contentId: mediaId,
    look: {
      ...look,
      ...(fit === undefined ? {} : { fit }),
      ...(place === undefined ? {} : { place }),
      ...(time === undefined ? {} : { time }),
    },
  };
}

/** What a guest sees of a framing. */
export function guestFraming({ fit = 'fill', place = {}, time = {} }: Framing): GuestFraming {
  // A guest moves and scales with one number each; keyed ones are not theirs.
  const [x, y] = place.offset ?? [0, 0];
  const [scale] = place.scale ?? [1, 1];
  return { fit, offset: [x, y], scale, start: time.start ?? 0 };
}

/** A guest's framing as a variant's. */
export function framingOfGuest({ fit, offset, scale, start }: GuestFraming): Framing {
  return { fit, place: { offset: [...offset], scale: [scale, scale] }, time: { start } };
}
