import { visibleSides, surfaceToContent } from '../content/content-fit.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import { InverseMesh } from '../../base/geometry/inverse-mesh.ts';
import { meshAt, type PatchMesh } from '../../base/geometry/patch-mesh.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { lensOutline, LensSurface, straightMap } from '../../motion/lens/lens-surface.ts';
import { distance, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { CleanSurface } from './clean-surface.ts';
import type { UsualSurface } from './surface-frames.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import type { ContentPyramid } from './content-pyramid.ts';
import { quadAtDepth } from './depth.ts';
import { lookNow, meshAtFrame, type ResolvedLook } from '../look/look.ts';
import type { LaidContent } from './pin-layer.ts';
import { quadAt, shutterTimes, type QuadMotion, type ShutterSteps } from './shutter-path.ts';
import type { SurfaceLaid } from './surface-map.ts';

/** A surface on one frame, with what is shown on it. */
export interface PinnedSurface {
  /** From behind to the front; more than one where layers lie at depths of their own. */
  readonly contents: readonly PinnedContent[];
  readonly motion: QuadMotion;
  /** Width over height in the world. */
  readonly ratio: number;
  readonly look: ResolvedLook;
  /** The plate's frame. */
  readonly frame: number;
  /** The surface's corners on the reference frame, where shapes that ride on it are given; those of now when absent. */
  readonly reference?: Quad | undefined;
  /** That frame; 0 when absent. */
  readonly referenceFrame?: number | undefined;
  /** What differs from the clean surface on this frame, 0…1 over a region's pixels; absent where that is not asked for. */
  readonly differs?: ((region: LightRegion) => Float32Array) | undefined;
  /** The surface as it was filmed, without what it mirrors and what stands before it; where the look asks for it and it could be measured. */
  readonly clean?: CleanSurface | undefined;
  /** The surface as most frames show it, laid flat, in the plate's codes; where something is painted out from other frames, or lie under glass. */
  readonly usual?: UsualSurface | undefined;
  /** Frames of the plate a second; 25 when absent. */
  readonly perSecond?: number | undefined;
  /** Focal length of the plate's camera, px; usual for the picture's size when absent. */
  readonly focal?: number | undefined;
  /** The plate's lens: what is laid on the surface is bent as it bends. */
  readonly lens?: Lens | undefined;
}

export interface PinnedContent {
  readonly pyramid: ContentPyramid;
  /** Screen widths behind the surface (positive) besides the look's own depth. */
  readonly depth?: number | undefined;
}

export interface PictureSize {
  readonly width: number;
  readonly height: number;
}

/** A mesh is prepared once while its shape stays. */
const inverses = new WeakMap<object, { key: string; mesh: InverseMesh }>();

function inverseOf(look: ResolvedLook, mesh: PatchMesh): InverseMesh {
  const key = JSON.stringify(mesh.points);
  const kept = inverses.get(look.mesh!);
  if (kept?.key === key) return kept.mesh;
  const made = new InverseMesh(mesh);
  inverses.set(look.mesh!, { key, mesh: made });
  return made;
}

const heightOf = (quad: Quad) => (distance(quad[0], quad[3]) + distance(quad[1], quad[2])) / 2;

/** How a surface's content lies over the picture at the moments of the shutter; `outset` moves its outline outward, px. */
export function laidContents(
  surface: PinnedSurface,
  size: PictureSize,
  steps: ShutterSteps,
  outset = 0,
): LaidContent[] {
  const { contents, motion, ratio, look, frame, lens } = surface;
  const now = lookNow(look, frame);
  const times = shutterTimes(motion, now.motionBlur, steps);
  const { feather, crop } = now;
  // With a key the plate itself ends the surface: its corners are as round there as they are.
  const radius = outset > 0 ? 0 : now.radius / heightOf(surface.reference ?? motion.now);
  const mesh = meshAtFrame(look.mesh, frame);
  const bent = mesh && inverseOf(look, mesh);
  return contents.flatMap(({ pyramid, depth: own = 0 }) => {
    const placement = surfaceToContent(look.fit, look.place, ratio, pyramid);
    const depth = numberAt(look.depth, frame) + own;
    if (!placement) return [];
    const laid = times.flatMap((time): SurfaceLaid[] => {
      const quad = quadAt(motion, time);
      const at = depth === 0 ? quad : quadAtDepth(quad, depth, ratio, size, surface.focal);
      // Behind the surface it is seen through the surface's outline, before it whole.
      return at && (!lens || straightMap(lens, at))
        ? [
            {
              quad: at,
              placement,
              feather,
              crop,
              radius,
              ratio,
              mesh: lens ? new LensSurface(lens, at, bent) : bent,
              outset,
              ...(depth > 0 ? { window: quad } : {}),
            },
          ]
        : [];
    });
    return [
      {
        content: pyramid,
        laid,
        reach: ({ quad, window }: SurfaceLaid) =>
          lens ? lensOutline(lens, quad, mesh) : mesh ? bentOutline(quad, mesh) : (window ?? quad),
        sides: visibleSides(placement, pyramid),
      },
    ];
  });
}

/** Steps along each patch's side in the outline of a bent surface. */
const STEPS = 4;

/** The outline of a bent surface in the picture, as a polygon. */
export function bentOutline(quad: Quad, mesh: PatchMesh): Point[] {
  const h = homographyBetweenQuads(UNIT_SQUARE, quad);
  if (!h) return [...quad];
  const at = (s: number, t: number): Point => {
    const [u, v] = meshAt(mesh, s, t);
    return applyToPoint(h, [u, v]);
  };
  const nx = STEPS * mesh.columns;
  const ny = STEPS * mesh.rows;
  return [
    ...Array.from({ length: nx }, (_, i) => at(i / nx, 0)),
    ...Array.from({ length: ny }, (_, i) => at(1, i / ny)),
    ...Array.from({ length: nx }, (_, i) => at(1 - i / nx, 1)),
    ...Array.from({ length: ny }, (_, i) => at(0, 1 - i / ny)),
  ];
}

/** The surface's outline on the frame as a polygon: its corners, or those and more of its mesh. */
export function outlineOf({ look, frame, lens }: PinnedSurface, quad: Quad): readonly Point[] {
  const mesh = meshAtFrame(look.mesh, frame);
  return lens ? lensOutline(lens, quad, mesh) : mesh ? bentOutline(quad, mesh) : quad;
}
