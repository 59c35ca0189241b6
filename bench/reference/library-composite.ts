import { lookNow } from '../../core/composite/look.ts';
import { shutterTimes, quadAt } from '../../core/composite/shutter-path.ts';
import type { PinnedSurface } from '../../core/composite/pinned-surface.ts';
import { frontScene } from '../../core/composite/front-scene.ts';
import { spillWork } from '../../core/composite/spill-work.ts';
import { homographyBetweenQuads } from '../../core/geometry/estimate-homography.ts';
import { grownOutline } from '../../core/geometry/grow-outline.ts';
import { bounds, UNIT_SQUARE } from '../../core/geometry/quad.ts';
import { compose, scaling, translation } from '../../core/geometry/homography.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { lightTable } from '../../core/image/transfer.ts';
import { shapeOutline } from '../../core/matte/front-shapes.ts';
import { boxWithin } from '../../core/matte/light-region.ts';
import { loadOpenCv, type Mat, type OpenCv } from './opencv.ts';

/** What the library has besides what opencv.ts tells of it. */
interface Arithmetic extends OpenCv {
  CV_32FC3: number;
  CV_32FC4: number;
  CV_8UC3: number;
  INTER_AREA: number;
  DIST_L2: number;
  CMP_GT: number;
  MatVector: new () => { push_back(mat: Mat): void; delete(): void; get(i: number): Mat };
  LUT(from: Mat, table: Mat, to: Mat): void;
  split(from: Mat, to: object): void;
  merge(from: object, to: Mat): void;
  add(a: Mat, b: Mat, to: Mat): void;
  subtract(a: Mat, b: Mat, to: Mat): void;
  multiply(a: Mat, b: Mat, to: Mat, scale?: number): void;
  divide(a: Mat, b: Mat, to: Mat, scale?: number): void;
  addWeighted(a: Mat, alpha: number, b: Mat, beta: number, gamma: number, to: Mat): void;
  max(a: Mat, b: Mat, to: Mat): void;
  min(a: Mat, b: Mat, to: Mat): void;
  pow(a: Mat, power: number, to: Mat): void;
  erode(from: Mat, to: Mat, kernel: Mat): void;
  resize(from: Mat, to: Mat, size: object, fx: number, fy: number, how: number): void;
  blur(from: Mat, to: Mat, size: object): void;
  threshold(from: Mat, to: Mat, at: number, top: number, type: number): number;
  distanceTransform(from: Mat, to: Mat, kind: number, mask: number): void;
  THRESH_BINARY: number;
  THRESH_TRUNC: number;
  THRESH_TOZERO: number;
}
type AnyMat = Mat & { convertTo(to: Mat, type: number, scale?: number, offset?: number): void; roi(rect: object): AnyMat; setTo(value: object): void; copyTo(to: Mat): void; clone(): AnyMat };

/**
 * One frame finished with the library's own functions, in the steps that ours takes: content seen at every moment of the shutter and averaged, softened;
 * the colour-difference matte in light with a screen that is filled in from its clear parts, soft edges told from the front beside them, three shapes with
 * soft edges; known colours; spilled light replaced in its window; everything mixed and coded. Plain matrices, one thread. For timing: where the
 * library has no such function (exact coverage, curved shapes at many moments) a cheaper one stands for it.
 */
export async function libraryComposite(plate: CodedPicture, surface: PinnedSurface): Promise<{ picture: Uint8Array; milliseconds: number }> {
  const cv = (await loadOpenCv()) as Arithmetic, { look, motion } = surface, scene = frontScene(surface, 'final'), key = look.front.keys[0]!, spill = look.front.spill!, made: { delete(): void }[] = [];
  const keep = <T extends { delete(): void }>(one: T): T => {
    made.push(one);
    return one;
  };
  const mat = (rows: number, cols: number, type: number) => keep(new cv.Mat(rows, cols, type)) as AnyMat, out = () => keep(new cv.Mat()) as AnyMat, zero = new cv.Scalar(0, 0, 0, 0);
  const even = (box: { left: number; top: number; right: number; bottom: number }) => ({ x: box.left, y: box.top, width: box.right - box.left, height: box.bottom - box.top });
  const content = surface.contents[0]!.pyramid.level(0), base = mat(content.height, content.width, cv.CV_32FC4), codes = mat(plate.height, plate.width, cv.CV_8UC3), table = mat(1, 256, cv.CV_32FC1);
  base.data32F.set(content.data);
  codes.data.set(plate.data);
  table.data32F.set(lightTable(255));
  const started = performance.now();
  const rect = even(boxWithin(bounds(scene.smeared.flat()), 5, plate)!), { width, height } = rect, size = new cv.Size(width, height), at = translation(-rect.x, -rect.y);
  // Content: halved where it is twice as large as it is seen, then a warp a moment.
  let level: AnyMat = base, halvings = 0;
  for (; level.cols > 1.9 * width; halvings++) {
    const half = out();
    cv.pyrDown(level, half, new cv.Size(Math.ceil(level.cols / 2), Math.ceil(level.rows / 2)), cv.BORDER_REFLECT_101);
    level = half;
  }
  const times = shutterTimes(motion, lookNow(look, 0).motionBlur), layer = mat(height, width, cv.CV_32FC4), seen = out(), { soften } = lookNow(look, 0);
  layer.setTo(zero);
  for (const time of times) {
    const h = compose(at, homographyBetweenQuads(UNIT_SQUARE, quadAt(motion, time))!, scaling(1 / level.cols, 1 / level.rows), translation(0.5, 0.5)), map = keep(new cv.Mat(3, 3, cv.CV_64FC1));
    map.data64F.set(h);
    cv.warpPerspective(level, seen, map, size, cv.INTER_LINEAR, cv.BORDER_CONSTANT, zero);
    cv.addWeighted(layer, 1, seen, 1 / times.length, 0, layer);
  }
  cv.GaussianBlur(layer, layer, new cv.Size(0, 0), soften, soften, cv.BORDER_REFLECT_101);
  const planesOf = (m: Mat, n: number) => {
    const list = keep(new cv.MatVector());
    cv.split(m, list);
    return Array.from({ length: n }, (_, i) => keep(list.get(i)) as AnyMat);
  };
  // Light, excess, and the screen's own light filled in from its clear parts.
  const light = out();
  cv.LUT(keep(codes.roi(rect)), table, light);
  const [red, green, blue] = planesOf(light, 3) as [AnyMat, AnyMat, AnyMat], excess = out(), told = key.colour[1] - (key.colour[0] + key.colour[2]) / 2;
  cv.addWeighted(red, -0.5, blue, -0.5, 0, excess);
  cv.add(excess, green, excess);
  const clear = out(), inside = mat(height, width, cv.CV_8UC1), inside32 = out();
  const fill = (onto: Mat, points: readonly (readonly [number, number])[], value: number) => {
    const list = keep(new cv.MatVector()), outline = keep(cv.matFromArray(points.length, 1, cv.CV_32SC2, points.flatMap(([x, y]) => [Math.round((x - rect.x - 0.5) * 16), Math.round((y - rect.y - 0.5) * 16)])));
    list.push_back(outline);
    cv.fillPoly(onto, list, new cv.Scalar(value), 8, 4);
  };
  inside.setTo(zero);
  fill(inside, grownOutline(scene.outline, -3), 255);
  inside.convertTo(inside32, cv.CV_32FC1, 1 / 255);
  cv.threshold(excess, clear, 0.8 * told, 1, cv.THRESH_BINARY);
  cv.multiply(clear, inside32, clear);
  const filled = (planes: readonly AnyMat[], weight: AnyMat, block: number, reach: number): AnyMat[] => {
    const small = new cv.Size(Math.ceil(width / block), Math.ceil(height / block)), shares = out(), spread = out(), floor = out();
    cv.resize(weight, shares, small, 0, 0, cv.INTER_AREA);
    cv.GaussianBlur(shares, spread, new cv.Size(0, 0), reach, reach, cv.BORDER_REFLECT_101);
    spread.convertTo(floor, -1, 1, 1e-6);
    return planes.map((plane) => {
      const known = out(), coarse = out(), wide = out(), back = out();
      cv.multiply(plane, weight, known);
      cv.resize(known, coarse, small, 0, 0, cv.INTER_AREA);
      cv.GaussianBlur(coarse, wide, new cv.Size(0, 0), reach, reach, cv.BORDER_REFLECT_101);
      cv.divide(wide, floor, wide);
      cv.resize(wide, back, size, 0, 0, cv.INTER_LINEAR);
      return back;
    });
  };
  const screen = filled([red, green, blue], clear, 8, 4) as [AnyMat, AnyMat, AnyMat], screenExcess = out();
  cv.addWeighted(screen[0], -0.5, screen[2], -0.5, 0, screenExcess);
  cv.add(screenExcess, screen[1], screenExcess);
  // The matte, its soft band told from the front beside it.
  const unit = mat(height, width, cv.CV_32FC1), none = mat(height, width, cv.CV_32FC1), front = out(), solid = out();
  unit.setTo(new cv.Scalar(1));
  none.setTo(zero);
  const clamp = (m: Mat) => {
    cv.min(m, unit, m);
    cv.max(m, none, m);
  };
  cv.divide(excess, screenExcess, front);
  front.convertTo(front, -1, -1 / (key.ceiling ?? 0.6), 1 / (key.ceiling ?? 0.6));
  clamp(front);
  cv.erode(front, solid, keep(cv.matFromArray(3, 3, cv.CV_8UC1, new Array<number>(9).fill(1))));
  cv.threshold(solid, solid, 0.999, 1, cv.THRESH_BINARY);
  const [nearest] = filled([excess], solid, 2, 3) as [AnyMat], gone = out(), way = out(), soft = out();
  cv.subtract(screenExcess, excess, gone);
  cv.subtract(screenExcess, nearest, way);
  cv.divide(gone, way, soft);
  clamp(soft);
  cv.max(soft, solid, front);
  // Markers: the matte grown over them (one more fill), then the shapes.
  const [around] = filled([front], clear, 2, 3) as [AnyMat];
  cv.min(front, around, soft);
  for (const shape of look.front.shapes) {
    const outline = shapeOutline(shape, scene)!, drawn = mat(height, width, cv.CV_8UC1), far = out(), within = out();
    drawn.setTo(zero);
    fill(drawn, outline.points, 255);
    cv.distanceTransform(drawn, far, cv.DIST_L2, 3);
    far.convertTo(within, -1, 0.25);
    cv.min(within, unit, within);
    if (shape.does === 'remove') {
      within.convertTo(within, -1, -1, 1);
      cv.multiply(front, within, front);
    } else cv.max(front, within, front);
  }
  // What is in front without the screen, its colours held to those of the solid parts.
  const m = out();
  front.convertTo(m, -1, -1, 1);
  const rests = [red, green, blue].map((plane, c) => {
    const behind = out(), rest = out();
    cv.multiply(m, screen[c]!, behind);
    cv.subtract(plane, behind, rest);
    cv.max(rest, none, rest);
    return rest;
  }) as [AnyMat, AnyMat, AnyMat], known = filled(rests, solid, 2, 3) as [AnyMat, AnyMat, AnyMat], limit = out(), mean = out();
  cv.addWeighted(known[0], -0.5, known[2], -0.5, 0, limit);
  cv.add(limit, known[1], limit);
  cv.multiply(limit, front, limit);
  cv.max(limit, none, limit);
  cv.addWeighted(rests[0], 0.5, rests[2], 0.5, 0, mean);
  cv.add(mean, limit, limit);
  cv.min(rests[1], limit, rests[1]);
  // Spilled light over its window.
  const work = spillWork(spill, look.front.keys, scene, plate)!, wideRect = even(work.box), wide = new cv.Size(wideRect.width, wideRect.height), half = new cv.Size(Math.ceil(wideRect.width / 2), Math.ceil(wideRect.height / 2)), wideLight = out();
  cv.LUT(keep(codes.roi(wideRect)), table, wideLight);
  const wides = planesOf(wideLight, 3) as [AnyMat, AnyMat, AnyMat], inner = { x: rect.x - wideRect.x, y: rect.y - wideRect.y, width, height };
  rests.forEach((rest, c) => rest.copyTo(keep(wides[c]!.roi(inner))));
  const weight = mat(wideRect.height, wideRect.width, cv.CV_32FC1), held = out(), over = out(), overBlocks = out(), heldBlocks = out(), ratio = out(), nothing = mat(wideRect.height, wideRect.width, cv.CV_32FC1);
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
  const layers = planesOf(layer, 4) as [AnyMat, AnyMat, AnyMat, AnyMat];
  wides.forEach((plane, c) => {
    const part = keep(plane.roi(inner)), shown = out();
    cv.multiply(m, layers[c]!, shown);
    cv.add(part, shown, part);
  });
  const list = keep(new cv.MatVector()), all = out(), coded = out();
  for (const plane of wides) list.push_back(plane);
  cv.merge(list, all);
  cv.pow(all, 1 / 2.2, all);
  all.convertTo(coded, cv.CV_8UC3, 255);
  coded.copyTo(keep(codes.roi(wideRect)));
  const milliseconds = performance.now() - started, picture = Uint8Array.from(codes.data);
  for (const one of made.reverse()) one.delete();
  return { picture, milliseconds };
}
