/** A line of a chart. */
export interface Line {
  title: string;
  points: readonly (readonly [x: number, y: number])[];
}

const WIDTH = 360;
const HEIGHT = 240;
const LEFT = 48;
const TOP = 30;
const RIGHT = 14;
const BOTTOM = 40;
const DASHES = ['', '6 3', '2 3'];

/** A small chart of lines over a common axis from zero, as an SVG group shifted by `at` px to the right. */
function chart(title: string, xTitle: string, lines: readonly Line[], at: number): string {
  const all = lines.flatMap((l) => l.points);
  const mostX = Math.max(...all.map((p) => p[0]));
  const mostY = Math.max(...all.map((p) => p[1])) * 1.1;
  const x = (v: number) => LEFT + ((WIDTH - LEFT - RIGHT) * v) / mostX;
  const y = (v: number) => HEIGHT - BOTTOM - ((HEIGHT - TOP - BOTTOM) * v) / mostY;
  const ticks = [0, 0.5, 1]
    .map(
      (s) =>
        `<text x="${x(s * mostX)}" y="${HEIGHT - 24}" text-anchor="middle">${short(s * mostX)}</text><text x="${LEFT - 6}" y="${y(s * mostY) + 4}" text-anchor="end">${short(s * mostY)}</text><line x1="${LEFT}" x2="${WIDTH - RIGHT}" y1="${y(s * mostY)}" y2="${y(s * mostY)}" stroke="#ddd"/>`,
    )
    .join('');
  const curves = lines
    .map(
      (l, i) =>
        `<polyline fill="none" stroke="#b45309" stroke-width="1.8" stroke-dasharray="${DASHES[i]}" points="${l.points.map(([a, b]) => `${x(a).toFixed(1)},${y(b).toFixed(1)}`).join(' ')}"/>${l.points.map(([a, b]) => `<circle cx="${x(a).toFixed(1)}" cy="${y(b).toFixed(1)}" r="2.4" fill="#b45309"/>`).join('')}`,
    )
    .join('');
  return `<g transform="translate(${at} 0)"><text x="${LEFT}" y="16" font-weight="600">${title}</text>${ticks}${curves}<text x="${(LEFT + WIDTH - RIGHT) / 2}" y="${HEIGHT - 6}" text-anchor="middle">${xTitle}</text></g>`;
}

const short = (v: number) =>
  v >= 10_000 ? `${Math.round(v / 1000)}k` : v >= 10 || v === 0 ? v.toFixed(0) : v.toFixed(1);

/** Charts side by side, milliseconds a frame over what each is about. */
export function costCharts(charts: readonly { title: string; xTitle: string; lines: readonly Line[] }[]): string {
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${WIDTH * charts.length} ${HEIGHT}" font-family="sans-serif" font-size="11" fill="#23262a"><rect width="${WIDTH * charts.length}" height="${HEIGHT}" fill="#fff"/>
${charts.map((c, i) => chart(c.title, c.xTitle, c.lines, i * WIDTH)).join('\n')}
</svg>
`;
}
