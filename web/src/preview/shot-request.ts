import { motionAbout } from '../../../core/picture/pin/shutter-path.ts';
import { asksFrames } from '../../../core/picture/look/clean-fix.ts';
import { cleanFrames, cleanNeeds, type CleanKind } from '../../../core/picture/measure/clean-needs.ts';
import { NEUTRAL_LOOK, resolveLook, withCornerRadius } from '../../../core/picture/look/look.ts';
import { surfaceRatio } from '../../../core/picture/pin/surface-ratio.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { framesToMeasure } from '../../../core/picture/matte/frames-to-measure.ts';
import type { Board, Look, Media, ShotDocument } from '../../../core/base/schemas/types.ts';
import { useDocument } from '../stores/document.ts';
import { useShot } from '../stores/shot.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import type { OtherOnBench } from '../stores/other-surfaces.ts';
import type { ComposeRequest, FrontView, ShownMedium, ShownRequest, SurfaceRequest } from './compose-request.ts';

type ShotStore = ReturnType<typeof useShot>;

/** What of a frame is to be composed, and how well. */
interface Asked {
  frame: number;
  /** The other surfaces that are seen in the picture. */
  others?: readonly OtherOnBench[];
  /** A test card in place of the content. */
  card?: boolean;
  /** From exact pixels at final quality. */
  exact: boolean;
  /** Pixels of the screen that the plate's width takes. */
  onScreen: number;
  view?: FrontView;
  /** In place of the document's look. */
  look?: Look;
}

/** What to compose for a frame of the open shot, or null when something is still missing. Other surfaces are a part of the finished picture only. */
export function shotRequest({
  frame,
  others = [],
  card = false,
  exact,
  onScreen,
  view = 'finished',
  look,
}: Asked): ComposeRequest | null {
  const shot = useShot();
  const placed = usePlacedCorners();
  const { plate } = shot;
  const { document: now } = useDocument();
  const document = now && look ? { ...now, look } : now;
  if (!plate || !document) return null;
  const common = {
    plate: { id: plate.id, view: plate.view },
    plateWidth: plate.facts!.width,
    plateRate: plate.facts!.rate,
    frame,
    view,
    onScreen,
    plateKind: exact ? ('png' as const) : ('jpg' as const),
    quality: exact ? ('final' as const) : ('quick' as const),
  };
  const at = (f: number) => placed.cornersAt(f);
  if (card) {
    const own = surfaceOf(
      document,
      at,
      frame,
      { kind: 'test-card', ratio: surfaceRatio(document), card: document.card ?? 'checks' },
      0,
      0,
    );
    return (
      own && {
        ...common,
        surfaces: [{ ...own, look: document.cardClear ? { ...NEUTRAL_LOOK, opacity: 0.5 } : NEUTRAL_LOOK }],
      }
    );
  }
  const told = document.others ?? [];
  const content =
    contentOf(shot, document, exact) ??
    (view === 'cleaned' ? ({ kind: 'test-card', ratio: surfaceRatio(document), card: 'checks' } as const) : null);
  const own =
    content && surfaceOf(document, at, frame, content, told.find((other) => !other.nearer)?.border ?? 0, shot.frames);
  if (view !== 'finished') return own && { ...common, surfaces: [own] };
  const around = (nearer: boolean) =>
    told
      .filter((other) => other.nearer === nearer)
      .flatMap(({ shot: id, border = 0 }) => {
        const other = others.find((o) => o.shot === id);
        const shown = other && contentOf(shot, other.document, exact);
        const surface =
          shown &&
          surfaceOf(
            other.document,
            (f) => other.corners.get(f) ?? null,
            frame,
            shown,
            nearer ? border : 0,
            shot.frames,
          );
        return surface ? [surface] : [];
      });
  const surfaces = [...around(false), ...(own ? [own] : []), ...around(true)];
  return surfaces.length > 0 ? { ...common, surfaces } : null;
}

function surfaceOf(
  document: ShotDocument,
  at: (frame: number) => Quad | null,
  frame: number,
  content: ShownRequest,
  border: number,
  frames: number,
): SurfaceRequest | null {
  const now = at(frame);
  const corners = document.corners as Quad | null;
  const look = resolveLook(withCornerRadius(document));
  const cleanKind = cleanNeeds(look);
  if (!now || !corners) return null;
  return {
    content,
    border,
    look,
    cleanKind,
    clean: cleanKind
      ? toldClean(cleanKind, at, frames, document.referenceFrame)
      : look.front.difference
        ? spreadFrames(at, frames)
        : [],
    usual: asksFrames(look.clean?.fixes ?? []) ? spreadFrames(at, frames) : [],
    motion: motionAbout(at, frame)!,
    reference: corners,
    referenceFrame: document.referenceFrame,
    surfaceRatio: surfaceRatio(document),
    focal: document.focal,
    lens: document.lens,
  };
}

/** Frames over the whole shot in which the surface is known. */
function toldClean(
  kind: CleanKind,
  at: (f: number) => Quad | null,
  frames: number,
  referenceFrame: number,
): SurfaceRequest['clean'] {
  const known = Array.from({ length: frames }, (_, f) => f).filter((f) => at(f));
  return cleanFrames(kind, known, at(referenceFrame) ? referenceFrame : known[0]!).map((frame) => ({
    frame,
    quad: at(frame)!,
  }));
}

/** Frames over the whole shot that tell what differs, or what is usual. */
function spreadFrames(at: (f: number) => Quad | null, frames: number): SurfaceRequest['clean'] {
  const known = Array.from({ length: frames }, (_, f) => f).filter((f) => at(f));
  return framesToMeasure(known, at).map((frame) => ({ frame, quad: at(frame)! }));
}

function contentOf(shot: ShotStore, { look: { board }, contentId }: ShotDocument, exact: boolean): ShownRequest | null {
  if (board) return { kind: 'board', board, media: boardMedia(shot, board, exact) };
  const medium = shot.media.find((m) => m.id === contentId);
  return medium?.facts ? { kind: 'medium', ...shownMedium(shot, medium, exact) } : null;
}

function shownMedium({ plate }: ReturnType<typeof useShot>, medium: Media, exact: boolean): ShownMedium {
  return {
    source: { id: medium.id, view: medium.view },
    width: medium.facts!.width,
    height: medium.facts!.height,
    frames: medium.facts!.frames,
    rate: medium.kind === 'clip' ? medium.facts!.rate : plate!.facts!.rate,
    picture: medium.kind === 'still' || exact ? 'png' : 'jpg',
  };
}

/** The media that a board's layers show, by their ids. */
export function boardMedia(
  shot: ReturnType<typeof useShot>,
  board: Board,
  exact: boolean,
): Record<number, ShownMedium> {
  const used = new Set(board.layers.flatMap((layer) => (typeof layer.media === 'number' ? [layer.media] : [])));
  return Object.fromEntries(
    shot.media.filter((m) => used.has(m.id) && m.facts).map((m) => [m.id, shownMedium(shot, m, exact)]),
  );
}
