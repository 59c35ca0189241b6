import { isKeyed, numberAt, numbersAt, type Key, type Keyed } from '../../../../core/base/time/keyframes.ts';
import { NAMED_CURVES, type Easing } from '../../../../core/base/time/easing.ts';
import type { Board, BoardLayer, EasingRule } from '../../../../core/base/schemas/types.ts';

/** What of a layer may change over time, and what it is where nothing is said. */
export const NEUTRAL = {
  position: [0, 0],
  anchor: [0, 0],
  scale: [1, 1],
  rotation: 0,
  opacity: 1,
  crop: [0, 0, 0, 0],
} as const;
export type MovingName = keyof typeof NEUTRAL;
export const MOVING = Object.keys(NEUTRAL) as MovingName[];

type Value = number | readonly number[];

/** Names of the ways from key to key. */
export const EASES = ['linear', 'hold', 'ease', 'ease-in', 'ease-out', 'ease-in-out'] as const;
export type EaseName = (typeof EASES)[number];

export function easeOf(name: EaseName): Easing {
  return name === 'linear' || name === 'hold' ? name : NAMED_CURVES[name];
}

/** The name of a way; `own` for a curve without one. */
export function easeName(ease: EasingRule | undefined): EaseName | 'own' {
  if (ease === undefined || ease === 'linear') return 'linear';
  if (ease === 'hold') return 'hold';
  return (
    (Object.keys(NAMED_CURVES) as (keyof typeof NAMED_CURVES)[]).find((name) =>
      NAMED_CURVES[name].every((v, i) => v === ease[i]),
    ) ?? 'own'
  );
}

/** A layer's value on a frame: a number, or two or four. */
export function valueAt(layer: BoardLayer, name: MovingName, frame: number): Value {
  const told = layer[name];
  if (told === undefined) return NEUTRAL[name];
  return typeof NEUTRAL[name] === 'number'
    ? numberAt(told as Keyed<number>, frame)
    : numbersAt(told as Keyed<readonly number[]>, frame);
}

export function keysOf(layer: BoardLayer, name: MovingName): readonly Key<Value>[] {
  const told = layer[name] as Keyed<Value> | undefined;
  return told !== undefined && isKeyed(told) ? told : [];
}

function put(layer: BoardLayer, name: MovingName, value: Value | Key<Value>[]): void {
  (layer as unknown as Record<MovingName, unknown>)[name] = value;
}

/** Sets a value: on this frame where it has keys, else for all frames. */
export function setValue(layer: BoardLayer, name: MovingName, frame: number, value: Value): void {
  const keys = keysOf(layer, name);
  if (keys.length === 0) return put(layer, name, value);
  const there = keys.find((key) => key.frame === frame);
  put(
    layer,
    name,
    [...keys.filter((key) => key.frame !== frame), { ...there, frame, value }].sort((a, b) => a.frame - b.frame),
  );
}

/** Makes a key of a value on a frame, or takes it away; when none is left the value stays as it was there. */
export function toggleKey(layer: BoardLayer, name: MovingName, frame: number): void {
  const keys = keysOf(layer, name);
  const now = valueAt(layer, name, frame);
  const left = keys.filter((key) => key.frame !== frame);
  if (left.length === keys.length)
    put(
      layer,
      name,
      [...keys, { frame, value: now }].sort((a, b) => a.frame - b.frame),
    );
  else put(layer, name, left.length > 0 ? left : now);
}

/** All keys of a layer, by frame. */
export function keyFrames(layer: BoardLayer): { frame: number; names: MovingName[] }[] {
  const frames = new Map<number, MovingName[]>();
  for (const name of MOVING)
    for (const { frame } of keysOf(layer, name)) frames.set(frame, [...(frames.get(frame) ?? []), name]);
  return [...frames].map(([frame, names]) => ({ frame, names })).sort((a, b) => a.frame - b.frame);
}

/** Moves every key of a layer from one frame to another; false where one of the same value stands there. */
export function moveKeys(layer: BoardLayer, from: number, to: number): boolean {
  const names = MOVING.filter((name) => keysOf(layer, name).some((key) => key.frame === from));
  if (names.length === 0 || names.some((name) => keysOf(layer, name).some((key) => key.frame === to))) return false;
  for (const name of names)
    put(
      layer,
      name,
      keysOf(layer, name)
        .map((key) => (key.frame === from ? { ...key, frame: to } : key))
        .sort((a, b) => a.frame - b.frame),
    );
  return true;
}

export function removeKeys(layer: BoardLayer, frame: number): void {
  for (const name of MOVING) if (keysOf(layer, name).some((key) => key.frame === frame)) toggleKey(layer, name, frame);
}

/** How the values go on from the keys on a frame. */
export function setEase(layer: BoardLayer, frame: number, ease: EaseName): void {
  for (const name of MOVING) {
    const keys = keysOf(layer, name);
    if (keys.some((key) => key.frame === frame))
      put(
        layer,
        name,
        keys.map((key) => (key.frame === frame ? { ...key, ease: easeOf(ease) } : key)),
      );
  }
}

type Spot = readonly [number, number];

/** Scales a layer about its anchor on a frame so that a point of the board goes from one place to another: `both` ways alike, or each by itself. `start` is what it was when the hand took hold. */
export function scaleLayerTo(
  layer: BoardLayer,
  start: BoardLayer,
  frame: number,
  from: Spot,
  to: Spot,
  how: 'both' | 'each',
): boolean {
  const [ax, ay] = fromAnchor(start, frame, from);
  const [bx, by] = fromAnchor(start, frame, to);
  const [sx, sy] = valueAt(start, 'scale', frame) as Spot;
  const alike = (ax * bx + ay * by) / (ax * ax + ay * ay);
  // A side that runs through the anchor cannot tell a scale across itself.
  const way = (a: number, b: number) => (Math.abs(a) < 1e-3 ? 1 : b / a);
  const [fx, fy] = how === 'both' ? [alike, alike] : [way(ax, bx), way(ay, by)];
  if (![fx, fy].every((f) => Number.isFinite(f) && f > 0.005 && f < 1000)) return false;
  setValue(layer, 'scale', frame, [Number((sx * fx).toFixed(4)), Number((sy * fy).toFixed(4))]);
  return true;
}

/** A point of the board as seen from the layer's anchor, its turn taken back. */
function fromAnchor(layer: BoardLayer, frame: number, at: Spot): [number, number] {
  const [x, y] = valueAt(layer, 'position', frame) as Spot;
  const turn = (-(valueAt(layer, 'rotation', frame) as number) * Math.PI) / 180;
  const dx = at[0] - x;
  const dy = at[1] - y;
  return [dx * Math.cos(turn) - dy * Math.sin(turn), dx * Math.sin(turn) + dy * Math.cos(turn)];
}

/** Turns are drawn to eighths of a turn within so many degrees. */
const NEAR_TURN = 3;

/** Turns a layer about its anchor as the hand goes round it. */
export function turnLayerTo(
  layer: BoardLayer,
  start: BoardLayer,
  frame: number,
  from: Spot,
  to: Spot,
  free: boolean,
): void {
  const [x, y] = valueAt(start, 'position', frame) as Spot;
  const angle = (p: Spot) => (Math.atan2(p[1] - y, p[0] - x) * 180) / Math.PI;
  const by = angle(to) - angle(from);
  const turn = (valueAt(start, 'rotation', frame) as number) + by - 360 * Math.round(by / 360);
  const eighth = 45 * Math.round(turn / 45);
  setValue(layer, 'rotation', frame, Number((!free && Math.abs(turn - eighth) < NEAR_TURN ? eighth : turn).toFixed(2)));
}

/** An id that no layer has yet. */
export function freshId(board: Board): string {
  let n = board.layers.length + 1;
  while (board.layers.some((layer) => layer.id === `layer-${n}`)) n++;
  return `layer-${n}`;
}

/** A copy of a layer right in front of it; returns its id. */
export function duplicateLayer(board: Board, id: string): string {
  const at = board.layers.findIndex((layer) => layer.id === id);
  const layer = board.layers[at]!;
  const copy = freshId(board);
  board.layers.splice(at + 1, 0, {
    ...(JSON.parse(JSON.stringify(layer)) as BoardLayer),
    id: copy,
    ...(layer.name ? { name: `${layer.name} copy` } : {}),
  });
  return copy;
}

/** A rectangle on the board. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export const ALIGNS = ['left', 'middle', 'right', 'top', 'centre', 'bottom'] as const;
export type Align = (typeof ALIGNS)[number];

/** How far a box is moved to be aligned with another. */
export function alignBy(box: Box, to: Box, how: Align): [number, number] {
  switch (how) {
    case 'left':
      return [to.left - box.left, 0];
    case 'middle':
      return [(to.left + to.right - box.left - box.right) / 2, 0];
    case 'right':
      return [to.right - box.right, 0];
    case 'top':
      return [0, to.top - box.top];
    case 'centre':
      return [0, (to.top + to.bottom - box.top - box.bottom) / 2];
    case 'bottom':
      return [0, to.bottom - box.bottom];
  }
}

/** The move (dx, dy) of a box, drawn to lines of others that one of its sides or its middle comes near: within `near`, each way by itself. */
export function snapped(
  box: Box,
  [dx, dy]: readonly [number, number],
  others: readonly Box[],
  near: number,
): [number, number] {
  const drawn = (mine: readonly number[], theirs: readonly number[], by: number) => {
    let best = by;
    let least = near;
    for (const a of mine)
      for (const b of theirs) {
        const off = Math.abs(a + by - b);
        if (off < least) [best, least] = [b - a, off];
      }
    return best;
  };
  return [
    drawn(
      [box.left, (box.left + box.right) / 2, box.right],
      others.flatMap((o) => [o.left, (o.left + o.right) / 2, o.right]),
      dx,
    ),
    drawn(
      [box.top, (box.top + box.bottom) / 2, box.bottom],
      others.flatMap((o) => [o.top, (o.top + o.bottom) / 2, o.bottom]),
      dy,
    ),
  ];
}
