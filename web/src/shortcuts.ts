/** Every key there is, for the sheet that lists them. Handled where they act. */
export const SHORTCUTS: readonly { title: string; keys: readonly { keys: string; does: string }[] }[] = [
  {
    title: 'Through the shot',
    keys: [
      { keys: 'Space', does: 'play, stop' },
      { keys: ', .', does: 'one frame back, on' },
      { keys: '< >', does: 'ten frames back, on' },
      { keys: 'R', does: 'go to the reference frame' },
      { keys: 'W', does: 'go to the worst frame' },
      { keys: 'N', does: 'go to the next problem (Shift N: the one before)' },
      { keys: 'E', does: 'play every frame, or keep to the rate' },
      { keys: 'I U', does: 'set in, out' },
    ],
  },
  {
    title: 'The picture',
    keys: [
      { keys: 'F', does: 'show all of it' },
      { keys: '1', does: 'one screen pixel for a plate pixel' },
      { keys: '+ −', does: 'closer, further (or the wheel)' },
      { keys: 'O', does: 'outlines on, off' },
      { keys: 'V', does: 'finished picture or plate' },
      { keys: '[ ]', does: 'view darker, brighter (view only)' },
      { keys: 'H', does: 'next channel (view only)' },
      { keys: '0', does: 'view it as it is' },
      { keys: 'B', does: 'border between plate and finished' },
      { keys: 'Shift B', does: 'plate and finished in turns' },
      { keys: 'G', does: 'the picture steadied by the surface, or as filmed' },
      { keys: 'M', does: 'measure a square' },
    ],
  },
  {
    title: 'The ledger',
    keys: [
      { keys: '← →', does: 'one frame back, on (Shift: ten)' },
      { keys: 'Page ↑ ↓', does: 'ten frames back, on' },
      { keys: 'Home End', does: 'first, last frame' },
      { keys: '+ −', does: 'zoom in time (or Ctrl and the wheel)' },
    ],
  },
  {
    title: 'Steps',
    keys: [
      { keys: 'Alt 1…7', does: 'go to a step' },
      { keys: 'D', does: 'draw a region (Follow), a shape (Front)' },
      { keys: 'J', does: 'next view of the matte (Front)' },
      { keys: 'K', does: 'draw a keep-out (Follow)' },
      { keys: 'P', does: 'place the corners (Seat)' },
      { keys: 'Enter', does: 'close the outline; at once: one in the middle' },
      { keys: 'Delete', does: 'remove the picked outline' },
    ],
  },
  {
    title: 'A point of an outline, a key',
    keys: [
      { keys: '↑ ↓ ← →', does: 'nudge the point 1 px (Shift: 10, Alt: 0.1)' },
      { keys: 'Q', does: 'bend it, or make it a corner (or a double press)' },
      { keys: 'Insert', does: 'add a point after it (or press on the side)' },
      { keys: 'Delete', does: 'take the point, or the key, away' },
      { keys: '← →', does: 'move a key in the ledger, or a fix over the slices, by a frame' },
    ],
  },
  {
    title: 'Points and hand keys',
    keys: [
      { keys: '← →', does: 'in a magnifier: one frame back, on (Shift: ten); dragging there puts the point by hand' },
      { keys: '↑ ↓ ← →', does: 'nudge a point or a keyed corner in the viewer' },
      { keys: '← → Delete', does: 'move or remove a hand key, or move a join, in the ledger' },
    ],
  },
  {
    title: 'Corners and fields',
    keys: [
      { keys: 'C S A', does: 'pick the next corner, the next side, all (Seat)' },
      { keys: '↑ ↓ ← →', does: 'nudge what is picked 1 px' },
      { keys: 'Shift ↑', does: 'nudge 10 px' },
      { keys: 'Alt ↑', does: 'nudge 0.1 px' },
      { keys: 'X', does: 'move for all frames, or fix this one (Seat)' },
      { keys: 'Y', does: 'without fixes, lock and smoothing (Seat)' },
      { keys: 'L', does: 'surface laid flat (Seat)' },
      { keys: 'T', does: 'test card (Seat)' },
      { keys: 'Ctrl Z', does: 'undo' },
      { keys: 'Ctrl Shift Z', does: 'redo' },
      { keys: '?', does: 'this sheet' },
    ],
  },
];
