import { clamp } from '../../../core/base/geometry/clamp.ts';
import type { Point } from '../../../core/base/geometry/homography.ts';

/**
 * How plate pixels lie on the page: page = plate · scale + offset, in CSS pixels of the viewer; across, `scale` is
 * multiplied by `aspect`, the width of a plate pixel over its height.
 */
export interface ViewTransform {
  scale: number;
  aspect: number;
  x: number;
  y: number;
}

export const SMALLEST_SCALE = 0.05;
export const LARGEST_SCALE = 32;

/** The whole plate in the middle of the viewer, with a margin. */
export function fitView(
  viewWidth: number,
  viewHeight: number,
  plateWidth: number,
  plateHeight: number,
  aspect = 1,
  margin = 16,
): ViewTransform {
  const scale = Math.max(
    SMALLEST_SCALE,
    Math.min((viewWidth - 2 * margin) / (plateWidth * aspect), (viewHeight - 2 * margin) / plateHeight),
  );
  return { scale, aspect, x: (viewWidth - plateWidth * aspect * scale) / 2, y: (viewHeight - plateHeight * scale) / 2 };
}

/** Zooms by a factor and keeps the plate point under (x, y) where it is. */
export function zoomAt(view: ViewTransform, factor: number, x: number, y: number): ViewTransform {
  const scale = clamp(view.scale * factor, SMALLEST_SCALE, LARGEST_SCALE);
  const ratio = scale / view.scale;
  return { scale, aspect: view.aspect, x: x - (x - view.x) * ratio, y: y - (y - view.y) * ratio };
}

export function toPage(view: ViewTransform, [x, y]: Point): [number, number] {
  return [x * view.scale * view.aspect + view.x, y * view.scale + view.y];
}

export function toPlate(view: ViewTransform, x: number, y: number): [number, number] {
  return [(x - view.x) / (view.scale * view.aspect), (y - view.y) / view.scale];
}

/** A rectangle in the middle of the picture, half its size: where keys start from. */
export function middleOutline(width: number, height: number): [number, number][] {
  const left = width / 4;
  const top = height / 4;
  return [
    [left, top],
    [width - left, top],
    [width - left, height - top],
    [left, height - top],
  ];
}
