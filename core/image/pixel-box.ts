/** A rectangle of pixels, right and bottom exclusive. */
export interface PixelBox {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
