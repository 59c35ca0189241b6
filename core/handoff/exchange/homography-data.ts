import { pretty } from './corner-data.ts';
import type { ChosenFrames } from './export-choices.ts';

const layoutOf = (chosen: ChosenFrames): string =>
  `row-major, column vectors, ${chosen.choices.from === 'surface' ? "the surface's unit square (0, 0 its top left) to frame" : 'reference frame to frame'}`;

/** A row a frame: its number and nine numbers; empty fields where it is lost. */
export function homographyCsv(chosen: ChosenFrames): string {
  const lines = [
    '# homographies of a tracked surface',
    ...chosen.notes().map((note) => `# ${note}`),
    `# ${layoutOf(chosen)}; the reference frame is ${chosen.track.referenceFrame + chosen.firstFrame}`,
  ];
  const rows = chosen
    .all()
    .map(({ frame, homography }) => [frame, ...(homography ?? new Array<string>(9).fill(''))].join(','));
  return `${[...lines, 'frame,h00,h01,h02,h10,h11,h12,h20,h21,h22', ...rows].join('\n')}\n`;
}

export function homographyJson(chosen: ChosenFrames): string {
  return pretty(
    { format: 'yarlop-homographies/1', ...chosen.conventions(), layout: layoutOf(chosen) },
    chosen
      .all()
      .map(({ frame, homography, lost }) =>
        homography ? { frame, homography } : { frame, lost: lost ?? 'no homography' },
      ),
  );
}
