import { inverse3, planeToPicture, project } from './camera.ts';
import { outsideRound, type Scene } from './render.ts';

/**
 * Lengths, px, of the ways over the shutter of what is seen at points spread evenly over the picture (every `step` px):
 * the smear there. Points where only the backdrop is seen are left out.
 */
export function visibleSmears(scene: Scene, frame: number, step: number): number[] {
  const at = (time: number) =>
    scene.cards.map((card) => planeToPicture(card.pose(time), scene.camera(time), scene.lens));
  const middle = at(frame).map(inverse3);
  const opened = at(frame - scene.shutter / 2);
  const closed = at(frame + scene.shutter / 2);
  const out: number[] = [];
  for (let y = step / 2; y < scene.lens.height; y += step) {
    for (let x = step / 2; x < scene.lens.width; x += step) {
      const index = scene.cards.findIndex((card, i) => {
        const m = middle[i]!;
        const [u, v] = project(m, x, y);
        const { texture, radius } = card;
        const width = texture.width / texture.perCm;
        const height = texture.height / texture.perCm;
        return (
          m[6] * x + m[7] * y + m[8] > 0 &&
          u >= 0 &&
          v >= 0 &&
          u < width &&
          v < height &&
          !outsideRound(u, v, width, height, radius)
        );
      });
      if (index < 0) continue;
      const [u, v] = project(middle[index]!, x, y);
      const [ax, ay] = project(opened[index]!, u, v);
      const [bx, by] = project(closed[index]!, u, v);
      out.push(Math.hypot(bx - ax, by - ay));
    }
  }
  return out;
}
