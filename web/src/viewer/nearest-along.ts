/** Where along a path of the page a press is nearest: more than 0 at its beginning, less than 1 at its end. */
export function nearestAlong(path: SVGPathElement, press: { clientX: number; clientY: number }): number {
  const rect = path.ownerSVGElement!.getBoundingClientRect();
  const x = press.clientX - rect.left;
  const y = press.clientY - rect.top;
  const steps = 64;
  let nearest = 0;
  let least = Infinity;
  for (let k = 1; k < steps; k++) {
    const p = path.getPointAtLength((path.getTotalLength() * k) / steps);
    const d = Math.hypot(p.x - x, p.y - y);
    if (d < least) [nearest, least] = [k / steps, d];
  }
  return nearest;
}
