import { codeWriter } from '../../base/image/code-writer.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { lightOfRegion } from '../../base/image/light-region.ts';
import { shapeOnFrame, type ShapeSetting } from '../matte/roto-shapes.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { CastLight, ScreenTexture } from '../../base/schemas/types.ts';
import { spreadBy, type SpreadLight } from './light-wrap.ts';

/** Radius of the glow where none is said, in heights of the picture: common practice, no source. */
const USUAL_RADIUS = 0.04;
/** The content's light falls on what is near it as its mean over about this share of the picture's height. */
const REACH = 0.15;
/** Less added light than this changes no code. */
const LEAST = 1e-4;

/**
 * Veiling glare: a share of the content's light that the lens spreads about it, over all that is seen, the share taken off the content itself being
 * so small that it is left. Written into `out`.
 */
export function layGlow(
  out: CodedPicture,
  spread: SpreadLight,
  glow: NonNullable<ScreenTexture['glow']>,
  frame: number,
  colour: PlateColour,
): void {
  const amount = numberAt(glow.amount, frame);
  if (amount <= 0) return;
  const planes = spreadBy(spread, numberAt(glow.radius ?? USUAL_RADIUS * out.height, frame));
  addLight(out, { left: 0, top: 0, right: out.width, bottom: out.height }, colour, (col, row, light) => {
    for (let c = 0; c < 3; c++) light[c]! += amount * planes[c]!.at(col, row);
  });
}

/**
 * The content's light on what is around the screen. What lies there is taken to send back as much of it as of the room's light, by which it is
 * seen at all: P becomes P·(1 + strength·L), L being the content's mean light near by; only as much as a pixel does not show content.
 */
export function layCast(
  out: CodedPicture,
  shown: Float32Array,
  spread: SpreadLight,
  cast: CastLight,
  setting: ShapeSetting,
  box: PixelBox,
  colour: PlateColour,
): void {
  if (!spread.mean || box.right <= box.left || box.bottom <= box.top) return;
  const near = spreadBy(spread, REACH * out.height);
  const [r, g, b] = spread.mean;
  const mean = [r, g, b];
  const width = box.right - box.left;
  const strength = new Float32Array(width * (box.bottom - box.top));
  for (const area of cast.areas) {
    const amount = numberAt(area.strength, setting.frame);
    const covers = shapeOnFrame(area.shape, setting, box);
    for (let i = 0; i < strength.length; i++) strength[i]! += amount * covers[i]!;
  }
  addLight(out, box, colour, (col, row, light) => {
    const i = (row - box.top) * width + col - box.left;
    const share = strength[i]! * (1 - shown[row * out.width + col]!);
    if (share <= LEAST) return;
    const weight = near[3]!.at(col, row);
    const local = weight / (weight + 0.02);
    for (let c = 0; c < 3; c++)
      light[c]! *=
        1 + share * (weight > 1e-6 ? local * (near[c]!.at(col, row) / weight) + (1 - local) * mean[c]! : mean[c]!);
  });
}

function addLight(
  out: CodedPicture,
  box: PixelBox,
  colour: PlateColour,
  change: (col: number, row: number, light: [number, number, number]) => void,
): void {
  const {
    planes: [red, green, blue],
  } = lightOfRegion(out, box, colour);
  const write = codeWriter(out, colour);
  const light: [number, number, number] = [0, 0, 0];
  for (let row = box.top, i = 0; row < box.bottom; row++) {
    for (let col = box.left; col < box.right; col++, i++) {
      light[0] = red[i]!;
      light[1] = green[i]!;
      light[2] = blue[i]!;
      change(col, row, light);
      if (Math.abs(light[0] - red[i]!) + Math.abs(light[1] - green[i]!) + Math.abs(light[2] - blue[i]!) > LEAST)
        write((row * out.width + col) * 3, light[0], light[1], light[2]);
    }
  }
}
