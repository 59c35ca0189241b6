import type { Look } from '../../../../core/base/schemas/types.ts';

interface Key {
  frame: number;
  value: unknown;
}

/** A value of the Blend step that is keyed: what it is called, and its keys, in order. */
export interface KeyedPart {
  readonly title: string;
  readonly keys: Key[];
}

/** The values that the step has keys for, by their place in the look. */
const TITLES: Readonly<Record<string, string>> = {
  'levels/black': 'black',
  'levels/white': 'white',
  'levels/gamma': 'gamma',
  'levels/saturation': 'saturation',
  'levels/hue': 'hue',
  exposure: 'exposure',
  gain: 'gain',
  soften: 'softness',
  disc: 'disc',
  feather: 'feather',
  crop: 'crop',
  radius: 'corner radius',
  opacity: 'opacity',
  'motionBlur/shutter': 'shutter',
  'motionBlur/phase': 'phase',
  'grain/amount': 'grain',
  'reflections/gain': 'reflections',
  'reflections/blur': 'reflections’ blur',
  'texture/glow/amount': 'glow',
  'texture/glow/radius': 'glow’s radius',
};

const at = (look: Look, path: string): unknown =>
  path.split('/').reduce<unknown>((from, name) => (from as Record<string, unknown> | undefined)?.[name], look);
const isKeys = (value: unknown): value is Key[] =>
  Array.isArray(value) && value.length > 0 && typeof value[0] === 'object';

/** What of a look (or the draft of one) is keyed. */
export function keyedParts(look: Look): KeyedPart[] {
  return Object.entries(TITLES).flatMap(([path, title]) => {
    const keys = at(look, path);
    return isKeys(keys) ? [{ title, keys }] : [];
  });
}

/** The frames with keys, and what is keyed there. */
export function lookKeyFrames(look: Look): { frame: number; titles: string[] }[] {
  const frames = new Map<number, string[]>();
  for (const { title, keys } of keyedParts(look))
    for (const { frame } of keys) frames.set(frame, [...(frames.get(frame) ?? []), title]);
  return [...frames].sort(([a], [b]) => a - b).map(([frame, titles]) => ({ frame, titles }));
}

/** Moves all keys of a frame to another; false, and nothing is moved, where one of the values has a key there. */
export function moveLookKeys(look: Look, from: number, to: number): boolean {
  const parts = keyedParts(look).filter(({ keys }) => keys.some((key) => key.frame === from));
  if (from === to || parts.some(({ keys }) => keys.some((key) => key.frame === to))) return false;
  for (const { keys } of parts) {
    keys.find((key) => key.frame === from)!.frame = to;
    keys.sort((a, b) => a.frame - b.frame);
  }
  return parts.length > 0;
}

/** Takes the keys of a frame away; a value's last key leaves its number for all frames. */
export function removeLookKeys(look: Look, frame: number): void {
  for (const path of Object.keys(TITLES)) {
    const keys = at(look, path);
    if (!isKeys(keys) || !keys.some((key) => key.frame === frame)) continue;
    const names = path.split('/');
    const parent = at(look, names.slice(0, -1).join('/')) as Record<string, unknown>;
    const holder = names.length === 1 ? (look as unknown as Record<string, unknown>) : parent;
    const left = keys.filter((key) => key.frame !== frame);
    holder[names.at(-1)!] = left.length > 0 ? left : keys[0]!.value;
  }
}
