// Made by `npm run schemas` from the .schema.json files beside this one. Do not edit.

export type AnySchema = FollowJob | Look | TrackFile;
export type MotionName = 'translation' | 'similarity' | 'affine' | 'perspective';
/**
 * @minItems 2
 * @maxItems 2
 */
export type PointPair = [number, number];
export type Outline = PointPair[];
/**
 * @minItems 4
 * @maxItems 4
 */
export type QuadCorners = [PointPair, PointPair, PointPair, PointPair];
/**
 * Frames per second as an exact fraction.
 *
 * @minItems 2
 * @maxItems 2
 */
export type Rate = [number, number];
/**
 * Row-major 3×3.
 *
 * @minItems 9
 * @maxItems 9
 */
export type NineNumbers = [number, number, number, number, number, number, number, number, number];

/**
 * What to follow in a plate, and the corners that ride on it.
 */
export interface FollowJob {
  pixelCentre: 'half' | 'integer';
  referenceFrame: number;
  motion: MotionName;
  regions: RegionOutline[];
  keepOut?: KeepOutOutline[];
  corners: QuadCorners;
  /**
   * First and last frame, inclusive.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
}
export interface RegionOutline {
  points: Outline;
}
export interface KeepOutOutline {
  points: Outline;
  /**
   * Stays where it is in the picture instead of riding with the surface.
   */
  fixed?: boolean;
}
/**
 * How content is made to sit in the plate. Everything is optional.
 */
export interface Look {
  /**
   * How content meets the surface's proportions; stretch unless said.
   */
  fit?: 'stretch' | 'fit' | 'fill';
  /**
   * Display-referred values that the content's 0 and 1 become, and the bend between them.
   */
  levels?: {
    black?: number;
    white?: number;
    /**
     * Above 1 brightens the middle: value^(1/gamma).
     */
    gamma?: number;
  };
  /**
   * Standard deviation of a gaussian, plate pixels.
   */
  soften?: number;
  /**
   * Width of the fade inward from the top, right, bottom and left edge, plate pixels.
   *
   * @minItems 4
   * @maxItems 4
   */
  feather?: [number, number, number, number];
  opacity?: number;
  motionBlur?: {
    /**
     * Degrees; 360 is open for the whole frame.
     */
    shutter?: number;
    /**
     * Degrees by which the shutter's middle comes after the frame's time.
     */
    phase?: number;
  };
}
/**
 * The motion of a surface: for each frame the homography from the reference frame, and the corners.
 */
export interface TrackFile {
  format: 'yarlop-track/1';
  pixelCentre: 'half' | 'integer';
  width: number;
  height: number;
  rate: Rate;
  referenceFrame: number;
  /**
   * The plate's own number of frame 0.
   */
  firstFrameNumber?: number;
  frames: TrackFrame[];
}
export interface TrackFrame {
  frame: number;
  homography?: NineNumbers;
  corners?: QuadCorners;
  /**
   * Pixels.
   */
  error?: number;
  confidence?: number;
  /**
   * Why this frame could not be followed; homography and corners are absent then.
   */
  lost?: string;
}
