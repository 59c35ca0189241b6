import { NEUTRAL_LOOK, resolveLook } from '../../../core/composite/look.ts';
import { surfaceRatio } from '../../../core/composite/surface-ratio.ts';
import type { Quad } from '../../../core/geometry/quad.ts';
import type { useShot } from '../stores/shot.ts';
import type { ComposeRequest, FrontView } from './compose-request.ts';

/** What to compose for a frame of the shot on the bench, or null when something is still missing. */
export function shotRequest(shot: ReturnType<typeof useShot>, frame: number, card: boolean, exact: boolean, view: FrontView = 'finished'): ComposeRequest | null {
  const now = shot.cornersAt(frame);
  const corners = shot.document?.corners as Quad | null | undefined;
  const { plate, document } = shot;
  if (!plate || !document || !now || !corners) return null;
  const ratio = surfaceRatio(document);
  const common = {
    plate: { id: plate.id, view: plate.view }, plateWidth: plate.facts!.width, plateRate: plate.facts!.rate, frame, reference: corners, referenceFrame: document.referenceFrame, view, plateKind: exact ? ('png' as const) : ('jpg' as const), surfaceRatio: ratio, quality: exact ? ('final' as const) : ('quick' as const),
    motion: { before: shot.cornersAt(frame - 1), now, after: shot.cornersAt(frame + 1) },
  };
  if (card) return { ...common, content: { kind: 'test-card', ratio, card: document.card ?? 'checks' }, look: document.cardClear ? { ...NEUTRAL_LOOK, opacity: 0.5 } : NEUTRAL_LOOK };
  const medium = shot.content;
  if (!medium?.facts) return null;
  return {
    ...common, look: resolveLook(document.look),
    content: {
      kind: 'medium', source: { id: medium.id, view: medium.view }, frames: medium.facts.frames, rate: medium.kind === 'clip' ? medium.facts.rate : plate.facts!.rate,
      picture: medium.kind === 'still' || exact ? 'png' : 'jpg',
    },
  };
}
