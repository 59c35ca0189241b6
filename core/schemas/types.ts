// Made by `npm run schemas` from the .schema.json files beside this one. Do not edit.

export type AnySchema =
  | NameRequest
  | Project
  | ProjectList
  | Shot
  | ShotList
  | PlateFacts
  | Media
  | MediaList
  | ShotDetail
  | SaveDocumentRequest
  | SavedDocument
  | Revision
  | RevisionList
  | ChoosePlateRequest
  | FollowRequest
  | RenderRequest
  | Job
  | JobList
  | TrackRow
  | TrackRows
  | RenderedFrames
  | ProblemReply
  | UploadReply
  | Health
  | ShotDocument
  | FollowJob
  | Look
  | TrackFile;
export type ProjectList = Project[];
/**
 * Frames per second as an exact fraction.
 *
 * @minItems 2
 * @maxItems 2
 */
export type Rate = [number, number];
export type ShotList = Shot[];
export type MediaList = Media[];
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
export type RevisionList = Revision[];
export type JobList = Job[];
/**
 * Row-major 3×3.
 *
 * @minItems 9
 * @maxItems 9
 */
export type NineNumbers = [number, number, number, number, number, number, number, number, number];

export interface NameRequest {
  name: string;
}
export interface Project {
  id: number;
  name: string;
  shots: number;
  createdAt: string;
}
export interface Shot {
  id: number;
  projectId: number;
  name: string;
  revision: number;
  plate: Media | null;
  createdAt: string;
}
export interface Media {
  id: number;
  projectId: number;
  name: string;
  bytes: number;
  state: 'waiting' | 'ready' | 'failed';
  kind: ('clip' | 'still' | 'sequence') | null;
  facts: PlateFacts | null;
  problem: string | null;
}
export interface PlateFacts {
  width: number;
  height: number;
  rate: Rate;
  frames: number;
  firstFrameNumber: number;
  codec: string;
  pixelFormat: string;
  range: 'limited' | 'full';
  matrix: string;
  transfer: string;
  bits: number;
  variableRate: boolean;
  assumed: string[];
}
export interface ShotDetail {
  shot: Shot;
  document: ShotDocument;
  project: Project;
  /**
   * Names the regions, reference and motion that the document asks for; track rows carry the one they were made with.
   */
  runKey: string;
}
/**
 * Everything a person decides about a shot. Coordinates: continuous plate pixels of the reference frame, centres at half.
 */
export interface ShotDocument {
  format: 'yarlop-shot/1';
  referenceFrame: number;
  motion: MotionName;
  regions: RegionOutline[];
  keepOut: KeepOutOutline[];
  corners: QuadCorners | null;
  contentId: number | null;
  look: Look;
  /**
   * A test card is shown in place of the content.
   */
  testCard: boolean;
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
export interface SaveDocumentRequest {
  /**
   * The revision that the document was changed from.
   */
  base: number;
  document: ShotDocument;
}
export interface SavedDocument {
  revision: number;
  runKey: string;
}
export interface Revision {
  revision: number;
  createdAt: string;
}
export interface ChoosePlateRequest {
  mediaId: number;
}
export interface FollowRequest {
  direction: 'forward' | 'backward' | 'both';
  /**
   * First and last frame; all unless given.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
}
export interface RenderRequest {
  /**
   * @minItems 2
   * @maxItems 2
   */
  frames: [number, number];
  output: 'mp4' | 'png';
}
export interface Job {
  id: number;
  kind: 'bring-in' | 'follow' | 'render';
  projectId: number;
  shotId: number | null;
  mediaId: number | null;
  state: 'queued' | 'running' | 'done' | 'failed' | 'stopped';
  done: number;
  total: number;
  problem: string | null;
  result: string | null;
  frames: [number, number] | null;
  createdAt: string;
  endedAt: string | null;
}
export interface TrackRow {
  frame: number;
  runKey: string;
  homography: NineNumbers | null;
  error: number | null;
  confidence: number;
  blur: number;
  lost: string | null;
}
export interface TrackRows {
  /**
   * Ask again after this number.
   */
  after: number;
  rows: TrackRow[];
}
export interface RenderedFrames {
  jobId: number | null;
  frames: number[];
}
export interface ProblemReply {
  code: string;
  message: string;
  remedy: string;
  request: string;
  /**
   * For a stale save: the newest revision.
   */
  current?: number;
}
export interface UploadReply {
  media: Media;
  job: Job;
}
export interface Health {
  ok: true;
  version: string;
}
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
