import { clamp } from '../../base/geometry/clamp.ts';
import { codeToLight, lightToCode } from '../../base/image/transfer.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';
import { BLEND_FUNCTIONS, type BlendMode } from '../look/blend-modes.ts';

/**
 * Turns an insert's colours into what they become with the plate's under them, so that it can be laid over as usual: Cs′ = B(Cb, Cs) before an opaque
 * backdrop. Source: W3C, Compositing and Blending Level 1, §5. In place; `region` is the plate's light.
 */
export function blendLayer(
  { layer, box }: InsertLayer,
  region: LightRegion,
  mode: BlendMode,
  space: 'light' | 'display',
): void {
  if (mode === 'over') return;
  const blend = BLEND_FUNCTIONS[mode];
  const left = Math.max(box.left, region.box.left);
  const right = Math.min(box.right, region.box.right);
  const display = space === 'display';
  for (let row = Math.max(box.top, region.box.top); row < Math.min(box.bottom, region.box.bottom); row++) {
    for (
      let col = left,
        at = ((row - box.top) * layer.width + left - box.left) * 4,
        i = (row - region.box.top) * region.width + left - region.box.left;
      col < right;
      col++, at += 4, i++
    ) {
      const alpha = layer.data[at + 3]!;
      if (alpha <= 0) continue;
      for (let c = 0; c < 3; c++) {
        const source = layer.data[at + c]! / alpha;
        const backdrop = region.planes[c as 0 | 1 | 2][i]!;
        layer.data[at + c] =
          alpha *
          (display
            ? codeToLight(clamp(blend(lightToCode(Math.max(0, backdrop)), lightToCode(Math.max(0, source))), 0, 1))
            : Math.max(0, blend(backdrop, source)));
      }
    }
  }
}
