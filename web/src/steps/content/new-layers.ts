import { sideRatio, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { Board, BoardLayer, Media } from '../../../../core/base/schemas/types.ts';

/** A layer that has no name among the others yet. */
export type NewLayer = Omit<BoardLayer, 'id'>;
type BoardSize = Pick<Board, 'width' | 'height'>;

/** Boards have as many pixels as the content that was there, or as a phone or tablet has. */
const USUAL_SIDE = 1600;
const PAPER = '#f4f1ea';
const INK = '#22302a';

/** The board that a shot begins with: of the shape of its corners, with the content that was there as its one layer. */
export function firstBoard(corners: Quad | null, content: Media | null): Board {
  const ratio = corners ? sideRatio(corners) : 9 / 16;
  const facts = content?.facts;
  const width = facts?.width ?? Math.round(ratio >= 1 ? USUAL_SIDE : USUAL_SIDE * ratio);
  const height = Math.round(facts ? width / ratio : ratio >= 1 ? USUAL_SIDE / ratio : USUAL_SIDE);
  const board: Board = { format: 'yarlop-board/1', width, height, background: PAPER, layers: [] };
  return content && facts ? { ...board, layers: [{ ...layerOfMedium(board, content), id: 'page' }] } : board;
}

/** A picture or clip, as wide as the board. */
export function layerOfMedium({ width }: BoardSize, medium: Media): NewLayer {
  const kind = medium.kind === 'still' ? 'picture' : 'clip';
  return { kind, name: medium.name, media: medium.id, width, position: [0, 0] };
}

/** Words or a box, of a size that suits the board, a little above its middle. */
export function layerOfKind({ width, height }: BoardSize, kind: 'text' | 'solid' | 'rounded'): NewLayer {
  const layer = {
    position: [Math.round(width * 0.1), Math.round(height * 0.4)] as [number, number],
    width: Math.round(width * 0.8),
  };
  if (kind === 'text')
    return { ...layer, kind, name: 'Text', text: 'Text', size: Math.round(width / 14), weight: 600, colour: INK };
  const box = { ...layer, height: Math.round(height * 0.18) };
  return kind === 'solid'
    ? { ...box, kind, name: 'Solid', colour: INK }
    : { ...box, kind, name: 'Box', colour: '#ffffff', radius: Math.round(width / 24) };
}
