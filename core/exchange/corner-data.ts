import { CORNER_NAMES } from '../geometry/quad.ts';
import type { TrackFile } from '../schemas/types.ts';

export const EXPORT_FORMATS = ['corners-csv', 'corners-json', 'homography-json'] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number];

/** The track as text in one of the open formats; coordinates keep the track's own pixel convention. */
export function exportTrack(track: TrackFile, format: ExportFormat): string {
  switch (format) {
    case 'corners-csv': return cornersCsv(track);
    case 'corners-json': return `${JSON.stringify(cornersJson(track), null, 1)}\n`;
    case 'homography-json': return `${JSON.stringify(homographyJson(track), null, 1)}\n`;
  }
}

/** Comma-separated values as in RFC 4180, with `#` lines on top that state the conventions. */
function cornersCsv(track: TrackFile): string {
  const lines = [
    '# corners of a tracked surface, plate pixels',
    `# plate ${track.width}x${track.height}, ${track.rate[0]}/${track.rate[1]} frames per second`,
    `# frames count from 0 at the first frame of the plate${track.firstFrameNumber ? `, whose own number is ${track.firstFrameNumber}` : ''}`,
    `# x to the right, y down; the centre of the top-left pixel is at ${track.pixelCentre === 'half' ? '0.5, 0.5' : '0, 0'}`,
    `# corners in the content's own order: ${CORNER_NAMES.join(', ')}; empty fields: lost`,
    ['frame', ...CORNER_NAMES.flatMap((name) => [`${name} x`, `${name} y`])].join(','),
  ];
  for (const { frame, corners } of sorted(track)) {
    lines.push([frame, ...(corners ? corners.flatMap((c) => [c[0], c[1]]) : new Array<string>(8).fill(''))].join(','));
  }
  return `${lines.join('\n')}\n`;
}

function conventions(track: TrackFile) {
  return {
    pixelCentre: track.pixelCentre, yAxis: 'down', width: track.width, height: track.height, rate: track.rate,
    firstFrame: 0, ...(track.firstFrameNumber ? { firstFrameNumber: track.firstFrameNumber } : {}), referenceFrame: track.referenceFrame,
  };
}

function cornersJson(track: TrackFile) {
  return {
    format: 'yarlop-corners/1', ...conventions(track), cornerOrder: CORNER_NAMES,
    frames: sorted(track).map(({ frame, corners, lost }) => (corners ? { frame, corners } : { frame, lost: lost ?? 'no corners' })),
  };
}

function homographyJson(track: TrackFile) {
  return {
    format: 'yarlop-homographies/1', ...conventions(track), layout: 'row-major, column vectors, reference frame to frame',
    frames: sorted(track).map(({ frame, homography, lost }) => (homography ? { frame, homography } : { frame, lost: lost ?? 'no homography' })),
  };
}

function sorted(track: TrackFile) {
  return [...track.frames].sort((a, b) => a.frame - b.frame);
}
