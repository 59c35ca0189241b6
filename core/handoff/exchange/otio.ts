import type { TrackFile } from '../../base/schemas/types.ts';

export interface TimelineParts {
  readonly name: string;
  /** Where the picture of the shot is found. */
  readonly target: string;
  /** First and last frame that are used, from the plate's first; all of the track's unless given. */
  readonly range?: readonly [number, number] | undefined;
  /** Frames that the medium has; those of the track unless given. */
  readonly frames?: number | undefined;
}

/**
 * A timeline of one clip with the shot's range and rate, as OpenTimelineIO's JSON. Names and versions of its objects (Timeline.1, Stack.1, Track.1,
 * Clip.1, ExternalReference.1, TimeRange.1, RationalTime.1) are those that OpenTimelineIO publishes, from memory.
 */
export function otio(track: TrackFile, { name, target, range, frames }: TimelineParts): string {
  const numbers = track.frames.map((row) => row.frame);
  const last = frames === undefined ? Math.max(0, ...numbers) : frames - 1;
  const [from, to] = range ?? [Math.min(...numbers, last), last];
  const rate = track.rate[0] / track.rate[1];
  const first = track.firstFrameNumber ?? 0;
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value });
  const span = (start: number, length: number) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: time(start),
    duration: time(length),
  });
  const metadata = {
    yarlop: { rate: track.rate, width: track.width, height: track.height, referenceFrame: track.referenceFrame },
  };
  const item = { metadata: {}, effects: [], markers: [], enabled: true };
  return `${JSON.stringify(
    {
      OTIO_SCHEMA: 'Timeline.1',
      name,
      metadata,
      global_start_time: null,
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        name: 'tracks',
        source_range: null,
        ...item,
        children: [
          {
            OTIO_SCHEMA: 'Track.1',
            name: 'picture',
            kind: 'Video',
            source_range: null,
            ...item,
            children: [
              {
                OTIO_SCHEMA: 'Clip.1',
                name,
                source_range: span(first + from, to - from + 1),
                ...item,
                media_reference: {
                  OTIO_SCHEMA: 'ExternalReference.1',
                  name: '',
                  metadata: {},
                  available_image_bounds: null,
                  available_range: span(first, last + 1),
                  target_url: target,
                },
              },
            ],
          },
        ],
      },
    },
    null,
    2,
  )}\n`;
}
