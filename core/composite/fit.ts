import type { Homography } from '../geometry/homography.ts';
import type { ResolvedLook } from './look.ts';

/**
 * Where a point of the surface (unit square) lies in the content, in content pixels. `surfaceRatio` is
 * the surface's width over height in the world. With `fit` the whole content is shown and bars are
 * left; with `fill` the surface is covered and the content cropped; both keep it centred.
 */
export function surfaceToContent(fit: ResolvedLook['fit'], surfaceRatio: number, contentWidth: number, contentHeight: number): Homography {
  const relative = surfaceRatio / (contentWidth / contentHeight);
  // How much of the content spans the surface across and down.
  let across = 1, down = 1;
  if (fit !== 'stretch') {
    const widthLeads = fit === 'fill' ? relative > 1 : relative < 1;
    if (widthLeads) down = 1 / relative;
    else across = relative;
  }
  return [contentWidth * across, 0, (contentWidth * (1 - across)) / 2, 0, contentHeight * down, (contentHeight * (1 - down)) / 2, 0, 0, 1];
}
