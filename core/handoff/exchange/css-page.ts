import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import type { ChosenFrames } from './export-choices.ts';

/** What the page shows and where it is found beside it. */
export interface PageParts {
  readonly title: string;
  /** The plate as a film that a browser plays, and a picture or film for the surface; addresses relative to the page. */
  readonly plate: string;
  readonly content: string;
  /** Size of the content's box, CSS pixels; that of the surface on the reference frame unless given. */
  readonly size?: { readonly width: number; readonly height: number } | undefined;
}

/**
 * The sixteen numbers of `matrix3d` that lay a box of `width` by `height` CSS pixels, transform-origin 0 0, onto four corners.
 * Source: CSS Transforms Module Level 2 (W3C), §13: numbers in column-major order; a homography is the matrix with z left alone.
 */
export function matrix3d(quad: Quad, width: number, height: number): number[] | null {
  const h = homographyBetweenQuads(
    [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ],
    quad,
  );
  return h && [h[0]!, h[3]!, 0, h[6]!, h[1]!, h[4]!, 0, h[7]!, 0, 0, 1, 0, h[2]!, h[5]!, 0, h[8]!];
}

/** A page that plays the content over the plate by CSS keyframes, one a frame, held until the next; where the surface is lost it is hidden. */
export function cssPage(chosen: ChosenFrames, { title, plate, content, size }: PageParts): string {
  const { track } = chosen;
  const rows = chosen.all();
  const last = Math.max(0, ...rows.map((row) => row.index));
  const home = chosen.referenceCorners() ?? chosen.cornersOf(rows.find((row) => row.corners)?.index ?? 0);
  const box =
    size ??
    (home
      ? { width: Math.round(distance(home[0], home[1])), height: Math.round(distance(home[0], home[3])) }
      : { width: 16, height: 9 });
  const seconds = ((last + 1) * track.rate[1]) / track.rate[0];
  const at = (frame: number) => `${Number(((100 * frame) / (last + 1)).toFixed(6))}%`;
  const byFrame = new Map(rows.map((row) => [row.index, row]));
  const keys = Array.from({ length: last + 1 }, (_, frame) => {
    const quad = byFrame.get(frame) && chosen.cornersOf(frame);
    const numbers = quad && matrix3d(quad, box.width, box.height);
    return `  ${at(frame)} { ${numbers ? `visibility: visible; transform: matrix3d(${numbers.map((v) => Number(v.toPrecision(10))).join(', ')});` : 'visibility: hidden;'} }`;
  });
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<title>${escaped(title)}</title>
<!-- matrix3d keyframes (CSS Transforms 2): ${track.width}x${track.height}, ${track.rate[0]}/${track.rate[1]} frames per second, frame n from n x ${track.rate[1]}/${track.rate[0]} s on. The box is ${box.width}x${box.height} CSS pixels. -->
<style>
body { margin: 0; background: #777; }
.plate { position: relative; width: ${track.width}px; height: ${track.height}px; overflow: hidden; }
.plate > video { display: block; width: 100%; height: 100%; }
.surface { position: absolute; left: 0; top: 0; width: ${box.width}px; height: ${box.height}px; transform-origin: 0 0; backface-visibility: visible; animation: surface ${Number(seconds.toFixed(6))}s step-end infinite paused; }
@keyframes surface {
${keys.join('\n')}
}
</style>
<div class="plate">
  <video src="${escaped(plate)}" muted loop controls playsinline></video>
  <img class="surface" src="${escaped(content)}" alt="">
</div>
<script>
// The film is the clock: the keyframes are set to the time of the picture on show. ?frame=n stands still on a frame.
const film = document.querySelector('video'), animation = document.querySelector('.surface').getAnimations()[0], perFrame = ${track.rate[1]} / ${track.rate[0]};
const show = (seconds) => { animation.currentTime = 1000 * (Math.floor(seconds / perFrame + 1e-6) + 0.5) * perFrame; };
const frame = new URLSearchParams(location.search).get('frame');
if (frame !== null) { film.currentTime = (Number(frame) + 0.5) * perFrame; show(Number(frame) * perFrame); }
else {
  const follow = (_, picture) => { show(picture.mediaTime); film.requestVideoFrameCallback(follow); };
  if (film.requestVideoFrameCallback) film.requestVideoFrameCallback(follow);
  else (function tick() { show(film.currentTime); requestAnimationFrame(tick); })();
  // Without a film the surface plays by itself.
  film.addEventListener('error', () => animation.play());
  film.play().catch(() => {});
}
</script>
</html>
`;
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
