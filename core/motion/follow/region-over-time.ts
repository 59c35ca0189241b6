import { fillPolygon } from '../../base/geometry/polygon.ts';
import { outlineAt, polygonOf } from '../../base/geometry/outline.ts';
import type { KeepOut, Region } from './region.ts';
import type { TemplateLevel } from './template.ts';

/** What is drawn, and the frame that it is drawn on. */
export interface Outlines {
  readonly regions: readonly Region[];
  readonly keepOut: readonly KeepOut[];
  readonly referenceFrame: number;
}

/** Which of the reference's pixels are looked at on each frame, where outlines change over time. */
export class RegionOverTime {
  /** Whether any outline changes over time. */
  readonly changes: boolean;
  private readonly mask: Uint8Array | null;
  private maskOf: number | null = null;

  constructor(
    private readonly outlines: Outlines,
    private readonly width: number,
    private readonly height: number,
  ) {
    const { regions, keepOut } = outlines;
    this.changes = [...regions, ...keepOut.filter((hole) => !hole.fixed)].some(
      (outline) => (outline.keys?.length ?? 0) > 0,
    );
    this.mask = this.changes ? new Uint8Array(width * height) : null;
  }

  /** Takes the say from the points of a level that are not looked at on a frame. */
  weigh(frame: number, level: TemplateLevel, prior: Float32Array): void {
    const mask = this.maskAt(frame);
    if (!mask) return;
    for (let i = 0; i < level.count; i++)
      if (mask[(level.ys[i]! << level.level) * this.width + (level.xs[i]! << level.level)] === 0) prior[i] = 0;
  }

  private maskAt(frame: number): Uint8Array | null {
    const {
      mask,
      width,
      height,
      outlines: { regions, keepOut, referenceFrame },
    } = this;
    if (!mask || this.maskOf === frame) return mask;
    mask.fill(0);
    for (const region of regions)
      fillPolygon(mask, width, height, polygonOf(outlineAt(region, referenceFrame, frame)), 1);
    for (const hole of keepOut)
      if (!hole.fixed) fillPolygon(mask, width, height, polygonOf(outlineAt(hole, referenceFrame, frame)), 0);
    this.maskOf = frame;
    return mask;
  }
}

/** 0 for each pixel of a frame's picture under a fixed keep-out; null when there is none. */
export class FixedKeepOuts {
  private readonly holes: readonly KeepOut[];
  private readonly changes: boolean;
  private readonly mask: Uint8Array | null;
  private maskOf: number | null = null;

  constructor(
    { keepOut }: Pick<Outlines, 'keepOut'>,
    private readonly referenceFrame: number,
    private readonly width: number,
    private readonly height: number,
  ) {
    this.holes = keepOut.filter((hole) => hole.fixed);
    this.changes = this.holes.some((hole) => (hole.keys?.length ?? 0) > 0);
    this.mask = this.holes.length > 0 ? new Uint8Array(width * height) : null;
  }

  at(frame: number): Uint8Array | null {
    const { mask, width, height } = this;
    if (!mask || this.maskOf === frame || (this.maskOf !== null && !this.changes)) return mask;
    mask.fill(1);
    for (const hole of this.holes)
      fillPolygon(mask, width, height, polygonOf(outlineAt(hole, this.referenceFrame, frame)), 0);
    this.maskOf = frame;
    return mask;
  }
}
