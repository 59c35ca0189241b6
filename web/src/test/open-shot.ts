import { createPinia, setActivePinia } from 'pinia';
import type { Job, Media, Project, Shot, ShotDocument, TrackRow } from '../../../core/base/schemas/types.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { useSaving } from '../stores/saving.ts';
import { useShot } from '../stores/shot.ts';
import { useTrack } from '../stores/track.ts';
import { leavePage } from './mount-panel.ts';
import { DOCUMENT, PLATE, SHOT } from './shot-parts.ts';
import { Refusal, TableApi, type Answer } from './table-api.ts';

export const PROJECT: Project = {
  id: 1,
  name: 'Seed house',
  shots: 1,
  createdAt: '2026-01-01T00:00:00.000Z',
  archived: false,
  picture: null,
};

export function job(change: Partial<Job> = {}): Job {
  return {
    id: 1,
    kind: 'follow',
    projectId: 1,
    shotId: SHOT.id,
    mediaId: null,
    state: 'running',
    done: 0,
    total: 4,
    problem: null,
    result: null,
    frames: null,
    render: null,
    createdAt: '2026-01-01T00:00:00.000Z',
    endedAt: null,
    ...change,
  };
}

export interface Given {
  document?: Partial<ShotDocument>;
  plate?: Media | null;
  rows?: TrackRow[];
  media?: Media[];
  jobs?: Job[];
  answers?: Record<string, Answer>;
  keepDrafts?: boolean;
}

/** A shot as the service keeps it: the last document that was saved, and its revision. */
export class KeptShot {
  revision = 1;
  document: ShotDocument;
  readonly plate: Media | null;
  constructor(given: Given) {
    this.document = structuredClone({ ...DOCUMENT, ...given.document });
    this.plate = given.plate === undefined ? PLATE : given.plate;
  }
  get shot(): Shot {
    return { ...SHOT, plate: this.plate, revision: this.revision };
  }
  detail(): unknown {
    return { shot: this.shot, document: this.document, project: PROJECT, runKey: 'k' };
  }
  /** Saves as the service does: a stale base is refused. */
  save({ base, document }: { base: number; document: ShotDocument }): unknown {
    if (base !== this.revision)
      return new Refusal(409, 'stale-save', 'The shot was saved elsewhere.', { current: this.revision });
    this.document = document;
    return { revision: ++this.revision, runKey: 'k' };
  }
}

let opened: ReturnType<typeof useShot> | null = null;

/** Opens a shot in stores of its own, against an API that answers from a table; edits kept in the browser stay only with `keepDrafts`. */
export async function openShot(given: Given = {}) {
  // What an earlier test left unsaved must not be saved into this one's shot.
  leavePage();
  opened?.close();
  if (!given.keepDrafts) localStorage.clear();
  setActivePinia(createPinia());
  const kept = new KeptShot(given);
  const id = SHOT.id;
  const rows = given.rows ?? [];
  const api = new TableApi({
    [`GET /shots/${id}`]: () => kept.detail(),
    [`PUT /shots/${id}/document`]: (body: { base: number; document: ShotDocument }) => kept.save(body),
    [`GET /projects/1/media`]: given.media ?? (kept.plate ? [kept.plate] : []),
    [`GET /shots/${id}/track`]: (_: unknown, address: string) =>
      address.endsWith('after=0') ? { rows, after: rows.length } : { rows: [], after: rows.length },
    [`GET /shots/${id}/jobs`]: given.jobs ?? [],
    [`GET /shots/${id}/scene`]: { scene: null, plane: null, current: false, changed: 0 },
    [`GET /media/${PLATE.id}/check`]: { done: true, rows: [], findings: [], reference: null },
    ...given.answers,
  });
  const shot = useShot();
  opened = shot;
  await shot.open(id);
  return { shot, doc: useDocument(), saving: useSaving(), track: useTrack(), placed: usePlacedCorners(), api, kept };
}
