import { NEUTRAL_LOOK, resolveLook } from '../../../core/composite/look.ts';
import { surfaceRatio } from '../../../core/composite/surface-ratio.ts';
import type { Quad } from '../../../core/geometry/quad.ts';
import type { Board, Media } from '../../../core/schemas/types.ts';
import type { useShot } from '../stores/shot.ts';
import type { ComposeRequest, FrontView, ShownMedium } from './compose-request.ts';

/** What to compose for a frame of the shot on the bench, or null when something is still missing. */
export function shotRequest(shot: ReturnType<typeof useShot>, frame: number, card: boolean, exact: boolean, view: FrontView = 'finished'): ComposeRequest | null {
  const now = shot.cornersAt(frame);
  const corners = shot.document?.corners as Quad | null | undefined;
  const { plate, document } = shot;
  if (!plate || !document || !now || !corners) return null;
  const ratio = surfaceRatio(document);
  const common = {
    plate: { id: plate.id, view: plate.view }, plateWidth: plate.facts!.width, plateRate: plate.facts!.rate, frame, reference: corners, referenceFrame: document.referenceFrame, view, focal: document.focal, plateKind: exact ? ('png' as const) : ('jpg' as const), surfaceRatio: ratio, quality: exact ? ('final' as const) : ('quick' as const),
    motion: { before: shot.cornersAt(frame - 1), now, after: shot.cornersAt(frame + 1) },
  };
  if (card) return { ...common, content: { kind: 'test-card', ratio, card: document.card ?? 'checks' }, look: document.cardClear ? { ...NEUTRAL_LOOK, opacity: 0.5 } : NEUTRAL_LOOK };
  const look = resolveLook(document.look), { board } = document.look;
  if (board) return { ...common, look, content: { kind: 'board', board, media: boardMedia(shot, board, exact) } };
  const medium = shot.content;
  return medium?.facts ? { ...common, look, content: { kind: 'medium', ...shownMedium(shot, medium, exact) } } : null;
}

function shownMedium({ plate }: ReturnType<typeof useShot>, medium: Media, exact: boolean): ShownMedium {
  return { source: { id: medium.id, view: medium.view }, frames: medium.facts!.frames, rate: medium.kind === 'clip' ? medium.facts!.rate : plate!.facts!.rate, picture: medium.kind === 'still' || exact ? 'png' : 'jpg' };
}

/** The media that a board's layers show, by their ids. */
export function boardMedia(shot: ReturnType<typeof useShot>, board: Board, exact: boolean): Record<number, ShownMedium> {
  const used = new Set(board.layers.flatMap((layer) => (typeof layer.media === 'number' ? [layer.media] : [])));
  return Object.fromEntries(shot.media.filter((m) => used.has(m.id) && m.facts).map((m) => [m.id, shownMedium(shot, m, exact)]));
}
