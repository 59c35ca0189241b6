import { distance, type Quad } from '../../base/geometry/quad.ts';

/** Which old corner becomes each new one. */
export type CornerOrder = readonly [number, number, number, number];

export const AS_THEY_ARE: CornerOrder = [0, 1, 2, 3];
/** A quarter turn of the content clockwise on the surface: what was its top-left corner is its top-right one now. */
export const QUARTER_TURN: CornerOrder = [1, 2, 3, 0];
/** Left and right change places. */
export const MIRROR: CornerOrder = [1, 0, 3, 2];

/** Things by corner in another order. */
export function reorder<T>(byCorner: readonly T[], order: CornerOrder): T[] {
  return order.map((old) => byCorner[old]!);
}

/** Sides in the order that the corners' order gives them: a new side is the old one between the same two corners. */
export function reorderSides<T>(bySide: readonly T[], order: CornerOrder): T[] {
  return order.map((from, k) => {
    const to = order[(k + 1) % 4]!;
    return bySide[(from + 1) % 4 === to ? from : to]!;
  });
}

/** x and y of each corner in another order. */
export function reorderMoves(moves: ArrayLike<number>, order: CornerOrder): number[] {
  return order.flatMap((old) => [moves[2 * old]!, moves[2 * old + 1]!]);
}

/** In which order corners that were measured earlier are named now: the one in which they lie nearest. */
export function orderBetween(measured: Quad, now: Quad): CornerOrder {
  const turns = [0, 1, 2, 3].map((t) => [0, 1, 2, 3].map((k) => (k + t) % 4));
  const all = [...turns, ...turns.map((o) => o.map((_, k) => o[(4 - k) % 4]!))] as unknown as CornerOrder[];
  const off = (order: CornerOrder) => now.reduce((sum, corner, k) => sum + distance(corner, measured[order[k]!]!), 0);
  return all.reduce((best, order) => (off(order) < off(best) - 1e-9 ? order : best));
}
