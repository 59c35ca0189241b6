import type { Media, Shot, ShotDocument, TrackRow } from '../../../core/base/schemas/types.ts';

/** Made-up parts of a shot for the tests of the interface's logic. */
export const DOCUMENT: ShotDocument = {
  format: 'yarlop-shot/1',
  referenceFrame: 2,
  motion: 'perspective',
  regions: [
    {
      points: [
        [10, 10],
        [90, 10],
        [90, 70],
        [10, 70],
      ],
    },
  ],
  keepOut: [],
  corners: [
    [20, 20],
    [80, 20],
    [80, 60],
    [20, 60],
  ],
  contentId: null,
  look: { fit: 'stretch' },
  testCard: false,
};

export const PLATE: Media = {
  id: 7,
  projectId: 1,
  name: 'bench.mp4',
  bytes: 1000,
  state: 'ready',
  kind: 'clip',
  problem: null,
  problemCode: null,
  corrections: {},
  lut: null,
  view: 'v',
  frameBytes: 0,
  checked: false,
  usedBy: [],
  facts: {
    width: 1280,
    height: 720,
    rotation: 0,
    pixelAspect: [1, 1],
    fieldOrder: 'progressive',
    deinterlace: false,
    rate: [25, 1],
    frames: 4,
    firstFrameNumber: 0,
    timecode: null,
    container: 'mov',
    codec: 'h264',
    pixelFormat: 'yuv420p',
    range: 'limited',
    matrix: 'bt709',
    transfer: 'srgb',
    primaries: 'bt709',
    bits: 8,
    alpha: false,
    doubled: 0,
    dropped: 0,
    missing: [],
    gaps: null,
    assumed: [],
    notes: [],
  },
};

export const SHOT: Shot = {
  id: 3,
  projectId: 1,
  name: 'Bench',
  revision: 1,
  archived: false,
  plate: PLATE,
  createdAt: '2026-01-01T00:00:00.000Z',
};

export function row(frame: number, change: Partial<TrackRow> = {}): TrackRow {
  return {
    frame,
    runKey: 'k',
    homography: [1, 0, frame, 0, 1, 0, 0, 0, 1],
    error: 0.1,
    confidence: 0.9,
    blur: 0,
    certainty: null,
    lost: null,
    note: null,
    ...change,
  };
}
