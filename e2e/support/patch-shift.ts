import { loadOpenCv, matFromCodes, release, type Mat } from '../../bench/reference/opencv.ts';

/**
 * How far a patch around a point is shifted between two pictures, px: the reference vision library's
 * enhanced correlation (OpenCV, findTransformECC with translation), so that our own following has no say.
 */
export async function patchShift(
  a: Uint8Array,
  b: Uint8Array,
  width: number,
  [cx, cy]: readonly [number, number],
  half = 36,
): Promise<number> {
  const cv = await loadOpenCv();
  const left = Math.round(cx) - half;
  const top = Math.round(cy) - half;
  const side = 2 * half;
  const patch = (rgb: Uint8Array) =>
    matFromCodes(
      cv,
      Array.from({ length: side * side }, (_, i) => {
        const at = ((top + Math.floor(i / side)) * width + left + (i % side)) * 3;
        return 0.2126 * rgb[at]! + 0.7152 * rgb[at + 1]! + 0.0722 * rgb[at + 2]!;
      }),
      side,
      side,
    );
  const [from, to, warp, mask]: [Mat, Mat, Mat, Mat] = [
    patch(a),
    patch(b),
    new cv.Mat(2, 3, cv.CV_32FC1),
    new cv.Mat(),
  ];
  warp.data32F.set([1, 0, 0, 0, 1, 0]);
  cv.findTransformECC(
    from,
    to,
    warp,
    cv.MOTION_TRANSLATION,
    new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 60, 1e-5),
    mask,
    3,
  );
  const shift = Math.hypot(warp.data32F[2]!, warp.data32F[5]!);
  release(from, to, warp, mask);
  return shift;
}
