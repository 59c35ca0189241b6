import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { peakOf } from '../../core/base/image/raw-frame.ts';
import type { RenderLayer, RenderPlan } from '../../core/base/schemas/types.ts';

/** Where the picture of a finished frame lies: losslessly, as PNG or, where there are floats in it, as EXR. */
export function finishedFile(
  renders: string,
  key: string,
  layer: RenderLayer,
  plan: Pick<RenderPlan, 'plate'>,
): string {
  const floats = layer === 'insert' || (layer !== 'matte' && peakOf(plan.plate.facts.layout) === 1);
  return join(renders, 'frames', key.slice(0, 2), `${key}.${floats ? 'exr' : 'png'}`);
}

/** The file of a key, whatever its layer; null where there is none. */
export function fileOfKey(renders: string, key: string): string | null {
  return (
    ['png', 'exr']
      .map((ending) => join(renders, 'frames', key.slice(0, 2), `${key}.${ending}`))
      .find((file) => existsSync(file)) ?? null
  );
}
