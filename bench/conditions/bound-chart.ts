/** Distances of corners from the truth over the bounds stated for them, of one condition. */
export interface BoundRatios {
  title: string;
  ratios: readonly number[];
}

const WIDTH = 720;
const HEIGHT = 360;
const LEFT = 46;
const TOP = 16;
const RIGHT = 230;
const BOTTOM = 40;
/** The axis ends at twice the bound. */
const MOST = 2;
const DASHES = ['', '6 3', '2 3', '8 3 2 3', '1 2', '10 4'];

/** The share of corners within so many times their stated bound, as an SVG: 95 % should lie within 1. */
export function boundChart(conditions: readonly BoundRatios[]): string {
  const width = WIDTH - LEFT - RIGHT;
  const height = HEIGHT - TOP - BOTTOM;
  const x = (ratio: number) => LEFT + (width * ratio) / MOST;
  const y = (share: number) => TOP + height * (1 - share);
  const line = (ratios: readonly number[]) =>
    Array.from({ length: 81 }, (_, i) => (i * MOST) / 80)
      .map(
        (at) =>
          `${x(at).toFixed(1)},${y(ratios.filter((r) => r <= at).length / Math.max(1, ratios.length)).toFixed(1)}`,
      )
      .join(' ');
  const ticks =
    [0, 0.5, 1, 1.5, 2].map((v) => `<text x="${x(v)}" y="${HEIGHT - 20}" text-anchor="middle">${v}</text>`).join('') +
    [0, 0.25, 0.5, 0.75, 1]
      .map(
        (v) =>
          `<text x="${LEFT - 8}" y="${y(v) + 4}" text-anchor="end">${100 * v}</text><line x1="${LEFT}" x2="${LEFT + width}" y1="${y(v)}" y2="${y(v)}" stroke="#ddd"/>`,
      )
      .join('');
  const all = conditions.flatMap((c) => c.ratios);
  const curves = [
    ...conditions.map((c, i) => ({ ...c, colour: '#6b6f73', wide: 1, dash: DASHES[i % DASHES.length]! })),
    { title: 'all together', ratios: all, colour: '#b45309', wide: 2.5, dash: '' },
  ];
  const legend = curves
    .map(
      (c, i) =>
        `<line x1="${LEFT + width + 12}" x2="${LEFT + width + 40}" y1="${TOP + 8 + i * 20}" y2="${TOP + 8 + i * 20}" stroke="${c.colour}" stroke-width="${c.wide}" stroke-dasharray="${c.dash}"/><text x="${LEFT + width + 46}" y="${TOP + 12 + i * 20}">${c.title}</text>`,
    )
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH} ${HEIGHT}" font-family="sans-serif" font-size="11" fill="#23262a">
<rect width="${WIDTH}" height="${HEIGHT}" fill="#fff"/>
<rect x="${LEFT}" y="${y(0.99)}" width="${width}" height="${y(0.93) - y(0.99)}" fill="#f3e4d3"/>
${ticks}
<line x1="${x(1)}" x2="${x(1)}" y1="${TOP}" y2="${TOP + height}" stroke="#23262a" stroke-dasharray="3 3"/>
${curves.map((c) => `<polyline points="${line(c.ratios)}" fill="none" stroke="${c.colour}" stroke-width="${c.wide}" stroke-dasharray="${c.dash}"/>`).join('\n')}
${legend}
<text x="${LEFT + width / 2}" y="${HEIGHT - 4}" text-anchor="middle">distance from the truth ÷ stated bound</text>
<text x="12" y="${TOP + height / 2}" transform="rotate(-90 12 ${TOP + height / 2})" text-anchor="middle">corners, %</text>
</svg>
`;
}
