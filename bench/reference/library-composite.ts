import type { PinnedSurface } from '../../core/picture/pin/pinned-surface.ts';
import { frontScene } from '../../core/picture/composite/front-scene.ts';
import { spillWork } from '../../core/picture/composite/spill-work.ts';
import { grownOutline } from '../../core/base/geometry/grow-outline.ts';
import { bounds } from '../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { lightTable } from '../../core/base/image/transfer.ts';
import { boxWithin } from '../../core/base/image/light-region.ts';
import { LibraryRoom, type AnyMat } from './library-room.ts';
import { lumaBorder, smearedContent, smearedShape, sweptBorder } from './library-smear.ts';

/**
 * One frame finished with the library's own functions, in the steps that ours takes: content seen at every moment of the shutter between two of
 * its levels and averaged, softened; the colour-difference matte in light with a screen that is filled in from its clear parts, soft edges told from the front beside them, held to what the
 * surface covers while the shutter is open, its border told by brightness; three shapes with soft edges at the moments of the shutter; known colours; spilled light replaced in its window;
 * everything mixed and coded. Plain matrices, one thread. For timing: where the library has no such function (exact coverage, markers carried through the smear, solving for luma) a cheaper one stands for it.
 */
export async function libraryComposite(
  plate: CodedPicture,
  surface: PinnedSurface,
): Promise<{ picture: Uint8Array; milliseconds: number }> {
  const room = await LibraryRoom.open();
  const { cv } = room;
  const { look } = surface;
  const scene = frontScene(surface, 'final');
  const key = look.front.keys[0]!;
  const spill = look.front.spill!;
  const keep = <T extends { delete(): void }>(one: T): T => room.keep(one);
  const mat = (rows: number, cols: number, type: number) => keep(new cv.Mat(rows, cols, type)) as AnyMat;
  const out = () => room.out();
  const zero = new cv.Scalar(0, 0, 0, 0);
  const even = (box: { left: number; top: number; right: number; bottom: number }) => ({
    x: box.left,
    y: box.top,
    width: box.right - box.left,
    height: box.bottom - box.top,
  });
  const content = surface.contents[0]!.pyramid.level(0);
  const base = mat(content.height, content.width, cv.CV_32FC4);
  const codes = mat(plate.height, plate.width, cv.CV_8UC3);
  const table = mat(1, 256, cv.CV_32FC1);
  base.data32F.set(content.data);
  codes.data.set(plate.data);
  table.data32F.set(lightTable(255));
  const started = performance.now();
  const rect = even(boxWithin(bounds(scene.smeared.flat()), 5, plate)!);
  const { width, height } = rect;
  const size = new cv.Size(width, height);
  const layer = smearedContent(room, base, surface, rect);
  // Light, excess, and the screen's own light filled in from its clear parts.
  const light = out();
  cv.LUT(keep(codes.roi(rect)), table, light);
  const [red, green, blue] = room.planes(light, 3) as [AnyMat, AnyMat, AnyMat];
  const excess = out();
  const told = key.colour[1] - (key.colour[0] + key.colour[2]) / 2;
  cv.addWeighted(red, -0.5, blue, -0.5, 0, excess);
  cv.add(excess, green, excess);
  const clear = out();
  const inside = mat(height, width, cv.CV_8UC1);
  const inside32 = out();
  inside.setTo(zero);
  room.fill(inside, grownOutline(scene.outline, -3), 255, rect);
  inside.convertTo(inside32, cv.CV_32FC1, 1 / 255);
  cv.threshold(excess, clear, 0.8 * told, 1, cv.THRESH_BINARY);
  cv.multiply(clear, inside32, clear);
  const filled = (planes: readonly AnyMat[], weight: AnyMat, block: number, reach: number): AnyMat[] => {
    const small = new cv.Size(Math.ceil(width / block), Math.ceil(height / block));
    const shares = out();
    const spread = out();
    const floor = out();
    cv.resize(weight, shares, small, 0, 0, cv.INTER_AREA);
    cv.GaussianBlur(shares, spread, new cv.Size(0, 0), reach, reach, cv.BORDER_REFLECT_101);
    spread.convertTo(floor, -1, 1, 1e-6);
    return planes.map((plane) => {
      const known = out();
      const coarse = out();
      const wide = out();
      const back = out();
      cv.multiply(plane, weight, known);
      cv.resize(known, coarse, small, 0, 0, cv.INTER_AREA);
      cv.GaussianBlur(coarse, wide, new cv.Size(0, 0), reach, reach, cv.BORDER_REFLECT_101);
      cv.divide(wide, floor, wide);
      cv.resize(wide, back, size, 0, 0, cv.INTER_LINEAR);
      return back;
    });
  };
  const screen = filled([red, green, blue], clear, 8, 4) as [AnyMat, AnyMat, AnyMat];
  const screenExcess = out();
  cv.addWeighted(screen[0], -0.5, screen[2], -0.5, 0, screenExcess);
  cv.add(screenExcess, screen[1], screenExcess);
  // The matte, its soft band told from the front beside it.
  const unit = mat(height, width, cv.CV_32FC1);
  const none = mat(height, width, cv.CV_32FC1);
  const front = out();
  const solid = out();
  unit.setTo(new cv.Scalar(1));
  none.setTo(zero);
  const clamp = (m: AnyMat) => {
    cv.min(m, unit, m);
    cv.max(m, none, m);
  };
  cv.divide(excess, screenExcess, front);
  front.convertTo(front, -1, -1 / (key.ceiling ?? 0.6), 1 / (key.ceiling ?? 0.6));
  clamp(front);
  cv.erode(front, solid, keep(cv.matFromArray(3, 3, cv.CV_8UC1, new Array<number>(9).fill(1))));
  cv.threshold(solid, solid, 0.999, 1, cv.THRESH_BINARY);
  const [nearest] = filled([excess], solid, 2, 3) as [AnyMat];
  const gone = out();
  const way = out();
  const soft = out();
  cv.subtract(screenExcess, excess, gone);
  cv.subtract(screenExcess, nearest, way);
  cv.divide(gone, way, soft);
  clamp(soft);
  cv.max(soft, solid, front);
  // Markers: the matte grown over them (one more fill), then the shapes.
  const [around] = filled([front], clear, 2, 3) as [AnyMat];
  cv.min(front, around, soft);
  sweptBorder(room, front, scene, look.front.markers.length > 0, rect);
  lumaBorder(room, front, [red, green, blue], filled([red, green, blue], solid, 2, 3), screen, scene, rect);
  for (const shape of look.front.shapes) {
    const within = smearedShape(room, shape, scene, rect);
    if (shape.does === 'remove') {
      within.convertTo(within, -1, -1, 1);
      cv.multiply(front, within, front);
    } else cv.max(front, within, front);
  }
  // What is in front without the screen, its colours held to those of the solid parts.
  const m = out();
  front.convertTo(m, -1, -1, 1);
  const rests = [red, green, blue].map((plane, c) => {
    const behind = out();
    const rest = out();
    cv.multiply(m, screen[c]!, behind);
    cv.subtract(plane, behind, rest);
    cv.max(rest, none, rest);
    return rest;
  }) as [AnyMat, AnyMat, AnyMat];
  const known = filled(rests, solid, 2, 3) as [AnyMat, AnyMat, AnyMat];
  const limit = out();
  const mean = out();
  cv.addWeighted(known[0], -0.5, known[2], -0.5, 0, limit);
  cv.add(limit, known[1], limit);
  cv.multiply(limit, front, limit);
  cv.max(limit, none, limit);
  cv.addWeighted(rests[0], 0.5, rests[2], 0.5, 0, mean);
  cv.add(mean, limit, limit);
  cv.min(rests[1], limit, rests[1]);
  // Spilled light over its window.
  const work = spillWork(spill, look.front.keys, scene, plate)!;
  const wideRect = even(work.box);
  const wide = new cv.Size(wideRect.width, wideRect.height);
  const half = new cv.Size(Math.ceil(wideRect.width / 2), Math.ceil(wideRect.height / 2));
  const wideLight = out();
  cv.LUT(keep(codes.roi(wideRect)), table, wideLight);
  const wides = room.planes(wideLight, 3) as [AnyMat, AnyMat, AnyMat];
  const inner = { x: rect.x - wideRect.x, y: rect.y - wideRect.y, width, height };
  rests.forEach((rest, c) => rest.copyTo(keep(wides[c]!.roi(inner))));
  const weight = mat(wideRect.height, wideRect.width, cv.CV_32FC1);
  const held = out();
  const over = out();
  const overBlocks = out();
  const heldBlocks = out();
  const ratio = out();
  const nothing = mat(wideRect.height, wideRect.width, cv.CV_32FC1);
  weight.data32F.set(work.weight);
  nothing.setTo(zero);
  cv.addWeighted(wides[0], 0.5, wides[2], 0.5, 1e-6, held);
  cv.subtract(wides[1], held, over);
  cv.resize(over, overBlocks, half, 0, 0, cv.INTER_AREA);
  cv.resize(held, heldBlocks, half, 0, 0, cv.INTER_AREA);
  cv.blur(overBlocks, overBlocks, new cv.Size(3, 3));
  cv.blur(heldBlocks, heldBlocks, new cv.Size(3, 3));
  cv.divide(overBlocks, heldBlocks, overBlocks);
  cv.resize(overBlocks, ratio, wide, 0, 0, cv.INTER_LINEAR);
  cv.max(ratio, nothing, ratio);
  cv.multiply(ratio, weight, ratio, 1 / told);
  wides.forEach((plane, c) => {
    const change = out();
    cv.multiply(plane, ratio, change, 0.3 - work.screen[c]!);
    cv.add(plane, change, plane);
    cv.max(plane, nothing, plane);
  });
  // Content behind what is in front, then codes.
  const layers = room.planes(layer, 4) as [AnyMat, AnyMat, AnyMat, AnyMat];
  wides.forEach((plane, c) => {
    const part = keep(plane.roi(inner));
    const shown = out();
    cv.multiply(m, layers[c]!, shown);
    cv.add(part, shown, part);
  });
  const list = keep(new cv.MatVector());
  const all = out();
  const coded = out();
  for (const plane of wides) list.push_back(plane);
  cv.merge(list, all);
  cv.pow(all, 1 / 2.2, all);
  all.convertTo(coded, cv.CV_8UC3, 255);
  coded.copyTo(keep(codes.roi(wideRect)));
  const milliseconds = performance.now() - started;
  const picture = Uint8Array.from(codes.data);
  room.free();
  return { picture, milliseconds };
}
