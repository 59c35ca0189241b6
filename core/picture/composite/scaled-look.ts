import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { ColourKey, FrontShape, OutlineKey, SpillSettings } from '../../base/schemas/types.ts';
import { mapKeyed } from '../../base/time/keyframes.ts';
import { grainSeenSmaller } from '../blend/grain-field.ts';
import type { Edges, ResolvedLook } from '../look/look.ts';

type Pair = [number, number];

/** A look for a picture of the plate that is `scale` times its size: everything told in plate pixels goes with it. */
export function scaledLook(look: ResolvedLook, scale: number): ResolvedLook {
  if (scale === 1) return look;
  const { front, reflections, texture, cast } = look;
  const length = (value: number) => value * scale;
  const edges = (value: Edges) => mapTuple(value, length);
  return {
    ...look,
    soften: mapKeyed(look.soften, length),
    disc: mapKeyed(look.disc, length),
    feather: mapKeyed(look.feather, edges),
    crop: mapKeyed(look.crop, edges),
    radius: mapKeyed(look.radius, length),
    grain: look.grain && grainSeenSmaller(look.grain, scale),
    reflections: reflections && {
      ...reflections,
      ...(reflections.blur === undefined ? {} : { blur: mapKeyed(reflections.blur, length) }),
      ...(reflections.shape ? { shape: scaledShape(reflections.shape, scale) } : {}),
    },
    texture:
      texture?.glow?.radius === undefined
        ? texture
        : { ...texture, glow: { ...texture.glow, radius: mapKeyed(texture.glow.radius, length) } },
    clean: look.clean && {
      ...look.clean,
      fixes: look.clean.fixes.map((fix) => ({
        ...fix,
        ...(fix.soft === undefined ? {} : { soft: fix.soft * scale }),
        ...(fix.shape ? { shape: scaledShape(fix.shape, scale) } : {}),
      })),
    },
    cast: cast && { ...cast, areas: cast.areas.map((area) => ({ ...area, shape: scaledShape(area.shape, scale) })) },
    front: {
      ...front,
      keys: front.keys.map((key) => scaledKey(key, scale)),
      shapes: front.shapes.map((shape) => scaledShape(shape, scale)),
      difference: front.difference && scaledKey(front.difference, scale),
      spill: front.spill && scaledSpill(front.spill, scale),
    },
  };
}

function scaledKey<K extends Pick<ColourKey, 'grow' | 'blur' | 'denoise' | 'reach'>>(key: K, scale: number): K {
  return {
    ...key,
    ...(key.grow === undefined ? {} : { grow: key.grow * scale }),
    ...(key.blur === undefined ? {} : { blur: key.blur * scale }),
    ...(key.denoise === undefined ? {} : { denoise: key.denoise * scale }),
    ...(key.reach === undefined ? {} : { reach: key.reach * scale }),
  };
}

function scaledSpill(spill: SpillSettings, scale: number): SpillSettings {
  return spill.areas
    ? { ...spill, areas: spill.areas.map((area) => ({ ...area, shape: scaledShape(area.shape, scale) })) }
    : spill;
}

export function scaledShape(shape: FrontShape, scale: number): FrontShape {
  const pair = (p: readonly number[]): Pair => [p[0]! * scale, p[1]! * scale];
  const outline = <O extends Pick<OutlineKey, 'points' | 'handles'>>(o: O): O => ({
    ...o,
    points: o.points.map(pair),
    ...(o.handles ? { handles: mapTuple(o.handles, (h) => h.map((v) => v * scale)) } : {}),
  });
  return {
    ...outline(shape),
    ...(shape.soft ? { soft: pair(shape.soft) } : {}),
    ...(shape.softness ? { softness: shape.softness.map(pair) } : {}),
    ...(shape.keys ? { keys: shape.keys.map(outline) } : {}),
  };
}
