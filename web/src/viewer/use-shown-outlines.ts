import { computed } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { IDENTITY, keepsInFront, type Homography } from '../../../core/base/geometry/homography.ts';
import { polygonOf, type Outline } from '../../../core/base/geometry/outline.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { keptPoint, shownOutline, type DrawnOutline } from '../steps/follow/edit-outline.ts';
import { homeOf, OUTLINE_NAMES, outlinesOf, type OutlineKind } from '../steps/follow/outlines-of.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useTrack } from '../stores/track.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The side that begins at a point, as a path to press on. */
function sideOf({ points, handles }: Outline, i: number): string {
  const p = points[i]!;
  const next = (i + 1) % points.length;
  const q = points[next]!;
  const h = handles?.[i];
  const g = handles?.[next];
  return `M${p.join(' ')}C${p[0] + (h?.[2] ?? 0)} ${p[1] + (h?.[3] ?? 0)} ${q[0] + (g?.[0] ?? 0)} ${q[1] + (g?.[1] ?? 0)} ${q.join(' ')}`;
}
/** The outlines of some lists as they lie on the page, on the frame on show; and where a place of the plate is kept in them. */
export function useShownOutlines(lists: () => readonly OutlineKind[]) {
  const viewport = useViewport();
  const doc = useDocument();
  const track = useTrack();
  const placed = usePlacedCorners();
  const head = usePlayhead();
  const workspace = useWorkspace();

  /** The frame on which an outline is as its points tell, and the one on show. */
  const atOf = (outline: DrawnOutline) => ({
    referenceFrame: doc.document ? homeOf(doc.document, outline) : 0,
    frame: head.frame,
  });
  function mapOf(outline: DrawnOutline): Homography | null {
    if (('fixed' in outline && outline.fixed) || ('rides' in outline && outline.rides === 'plate')) return IDENTITY;
    // Shapes lie on the surface as it is seated; what is followed goes by the track alone.
    const corners = doc.document?.corners as Quad | null | undefined;
    const seated = 'does' in outline || 'home' in outline ? placed.cornersAt(head.frame) : null;
    return corners && seated ? homographyBetweenQuads(corners, seated) : track.nearestMap(head.frame);
  }
  const onPage = (shape: Outline): Outline => ({
    points: shape.points.map((p) => toPage(viewport.view, p)),
    handles: shape.handles?.map(
      ([a, b, c, d]) =>
        [
          a * viewport.view.scale * viewport.view.aspect,
          b * viewport.view.scale,
          c * viewport.view.scale * viewport.view.aspect,
          d * viewport.view.scale,
        ] as const,
    ),
  });
  const outlines = computed(() =>
    lists()
      .flatMap((list) =>
        (doc.document ? outlinesOf(doc.document, list) : []).map((outline, index) => {
          const map = mapOf(outline);
          if (!map || !keepsInFront(map, outline.points)) return null;
          const at = atOf(outline);
          const shape = onPage(shownOutline(outline, at, map));
          const { points } = shape;
          const middle = points.reduce(([x, y], p) => [x + p[0] / points.length, y + p[1] / points.length], [0, 0]);
          return {
            list,
            index,
            points,
            off: outline.off === true,
            handles: shape.handles,
            middle,
            polygon: polygonOf(shape).join(' '),
            sides: points.map((_, i) => sideOf(shape, i)),
            picked: workspace.picked?.list === list && workspace.picked.index === index,
            keyed: at.frame === at.referenceFrame || (outline.keys?.some((key) => key.frame === head.frame) ?? false),
            title: `${OUTLINE_NAMES[list]} ${index + 1}`,
            guessed: map !== IDENTITY && track.homographyAt(head.frame) === null,
          };
        }),
      )
      .filter((o) => o !== null),
  );

  /** A press, where the outline is kept. */
  function keptAt(list: OutlineKind, outline: number, plate: [number, number]): [number, number] | null {
    const drawn = doc.document && outlinesOf(doc.document, list)[outline];
    const map = drawn && mapOf(drawn);
    return map ? keptPoint(map, plate) : null;
  }

  return { outlines, atOf, keptAt };
}
