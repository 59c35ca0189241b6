import type { PlateFacts } from '../../core/base/schemas/types.ts';
import type { MediaFacts } from './facts.ts';

/** What a person is shown of a medium’s facts. */
export function plateFacts(facts: MediaFacts, frames: number): PlateFacts {
  const { layout, colour } = facts;
  const {
    width,
    height,
    rotation,
    pixelAspect,
    fieldOrder,
    deinterlace,
    rate,
    firstFrameNumber,
    timecode,
    container,
    codec,
    pixelFormat,
    doubled,
    dropped,
    missing,
    gaps,
    assumed,
    notes,
  } = facts;
  return {
    width,
    height,
    rotation,
    pixelAspect,
    fieldOrder,
    deinterlace,
    rate,
    frames,
    firstFrameNumber,
    timecode,
    container,
    codec,
    pixelFormat,
    doubled,
    dropped,
    missing,
    gaps,
    assumed,
    notes,
    transfer: colour.transfer,
    primaries: colour.primaries,
    range: layout.kind === 'rgb' ? 'full' : layout.coding.range,
    matrix: layout.kind === 'rgb' ? 'rgb' : layout.coding.matrix,
    bits: layout.kind === 'rgb' ? layout.bits : layout.coding.bits,
    alpha: layout.kind === 'rgb' && (layout.alpha ?? false),
  };
}
