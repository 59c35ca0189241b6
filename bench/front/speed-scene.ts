import type { BoardSources } from '../../core/picture/board/render-board.ts';
import { resolveLook, type MeasuredFront, type ResolvedLook } from '../../core/picture/look/look.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import type { ContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import type { Board, BoardLayer, FrontShape } from '../../core/base/schemas/types.ts';
import type { FontFamily, FontWeight, FontSet } from '../../core/picture/board/fonts.ts';

/** A page of a phone, ten layers: a picture that scrolls, a bar, three notes with text, and a message that pops up. */
export function tenLayers(): Board {
  const note = (k: number): BoardLayer[] => [
    {
      id: `note-${k}`,
      kind: 'rounded',
      colour: k === 1 ? '#e8f0dc' : '#ffffffdd',
      width: 620,
      height: 150,
      radius: 28,
      position: [50, 300 + 190 * k],
    },
    {
      id: `words-${k}`,
      kind: 'text',
      text: `Bed ${k + 3}: water at 6:30, then vents open`,
      size: 40,
      width: 560,
      colour: '#22301c',
      position: [80, 330 + 190 * k],
    },
  ];
  return {
    format: 'yarlop-board/1',
    width: 720,
    height: 1480,
    background: '#f4f6ee',
    layers: [
      {
        id: 'page',
        kind: 'picture',
        media: 'page',
        width: 720,
        position: [
          { frame: 0, value: [0, 0] },
          { frame: 40, value: [0, -300], ease: [0.42, 0, 0.58, 1] },
        ],
      },
      { id: 'bar', kind: 'solid', colour: '#2e4a2a', width: 720, height: 96 },
      {
        id: 'title',
        kind: 'text',
        text: 'Potting round',
        size: 48,
        weight: 700,
        colour: '#ffffff',
        position: [40, 20],
      },
      ...note(0),
      ...note(1),
      ...note(2),
      {
        id: 'message',
        kind: 'rounded',
        colour: '#c85f34',
        width: 560,
        height: 120,
        radius: 40,
        position: [80, 1200],
        scale: [
          { frame: 2, value: [0.2, 0.2] },
          { frame: 10, value: [1, 1], ease: [0, 0, 0.58, 1] },
        ],
      },
    ],
  };
}

/** Three shapes on the surface as somebody would draw them: two fingers, and a part taken away. */
export function threeShapes(quad: Quad): FrontShape[] {
  const wide = distance(quad[0], quad[1]);
  const [x, y] = quad[0];
  const at = (u: number, v: number): [number, number] => [x + u * wide, y + v * wide];
  const finger = (u: number, v: number): FrontShape => ({
    points: [at(u, v), at(u + 0.18, v - 0.05), at(u + 0.24, v + 0.5), at(u - 0.05, v + 0.5)],
    handles: [
      [-8, 6, 4, -10],
      [-6, -4, 10, 8],
      [6, -12, -10, 6],
      [8, 6, -4, -14],
    ],
    soft: [2, 3],
    blur: true,
  });
  return [finger(0.2, 0.7), finger(0.6, 1), { ...finger(0.3, 1.3), does: 'remove', soft: [0, 6], opacity: 0.5 }];
}

export function speedLook(
  measured: MeasuredFront,
  levels: { black: number; white: number },
  softness: number,
  shutter: number,
  shapes: FrontShape[],
): ResolvedLook {
  return resolveLook(
    { levels, soften: softness, motionBlur: { shutter, phase: 0 }, keys: 'measure', spill: 'measure', shapes },
    measured,
  );
}

export function sourcesOf(
  page: ContentPyramid,
  font: (family: FontFamily, weight: FontWeight) => Promise<FontSet>,
): BoardSources {
  return { font, moves: () => false, media: () => Promise.resolve(page) };
}
