import { numberAt, numbersAt, type Keyed } from '../../base/time/keyframes.ts';
import type { Look } from '../../base/schemas/types.ts';

/**
 * What of a look goes from shot to shot: how content belongs in a plate of the same kind. Where things are in one plate (shapes, lit areas, the corners' radius,
 * keys of the screen's colour) and how its light changes stay behind.
 */
export const BLEND_FIELDS = [
  'levels',
  'gain',
  'soften',
  'disc',
  'feather',
  'crop',
  'opacity',
  'blend',
  'blendIn',
  'motionBlur',
  'grain',
  'oldScreen',
  'reflections',
  'texture',
] as const satisfies readonly (keyof Look)[];

/** The part of a look that can be used on another shot; what is keyed is taken as it is on a frame. */
export function blendPart(look: Look, frame: number): Look {
  const part: Record<string, unknown> = {};
  for (const field of BLEND_FIELDS)
    if (look[field] !== undefined && !(field === 'reflections' && look.reflections?.shape))
      part[field] = withoutKeys(look[field], frame);
  return part;
}

/** A look with such a part in place of its own; what the part does not say stays. Reasons for values that are replaced go, and reflections of a keyed screen need keys. */
export function withBlendPart(look: Look, part: Look): Look {
  const fields = BLEND_FIELDS.filter(
    (field) =>
      part[field] !== undefined &&
      !(field === 'reflections' && part.reflections!.from === 'key' && !Array.isArray(look.keys)),
  );
  const { why, ...rest } = look;
  const kept = Object.entries(why ?? {}).filter(
    ([name]) => !fields.some((field) => name === field || name.startsWith(`${field}/`)),
  );
  return {
    ...rest,
    ...Object.fromEntries(fields.map((field) => [field, part[field]])),
    ...(kept.length > 0 ? { why: Object.fromEntries(kept) } : {}),
  };
}

function withoutKeys(value: unknown, frame: number): unknown {
  if (Array.isArray(value)) {
    const [first] = value as { frame?: unknown; value?: unknown }[];
    if (typeof first !== 'object' || first.frame === undefined || first.value === undefined) return value;
    return typeof first.value === 'number'
      ? numberAt(value, frame)
      : numbersAt(value as unknown as Keyed<[number, number, number, number]>, frame);
  }
  return typeof value === 'object' && value !== null
    ? Object.fromEntries(Object.entries(value).map(([name, one]) => [name, withoutKeys(one, frame)]))
    : value;
}
