// Made by `npm run schemas` from the .schema.json files beside this one. Do not edit.

export type AnySchema =
  | Role
  | Scope
  | SignInRequest
  | SetUpRequest
  | AccessSession
  | Account
  | AccountList
  | NewAccountRequest
  | ChangePasswordRequest
  | AccessToken
  | AccessTokenList
  | NewTokenRequest
  | MadeToken
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
  | SamplingTrials
  | SeatFrame
  | FourBounds
  | SeatReply
  | SnapRequest
  | FoundBorder
  | SnappedSideReply
  | SnapReply
  | MatchRequest
  | MatchReply
  | DisagreementReply
  | ClearRequest
  | LoopRequest
  | SteadyRequest
  | Job
  | JobList
  | TrackRow
  | TrackRows
  | ServiceDescription
  | DocumentReply
  | JobPriorityRequest
  | WorkerList
  | ProblemReply
  | UploadReply
  | Health
  | CorrectMediaRequest
  | LutRequest
  | HeldRequest
  | HeldReply
  | FromServerRequest
  | ServerFolder
  | Limits
  | PlateCheck
  | PlateFit
  | ReplacePlateRequest
  | Storage
  | SweepReport
  | ShotCard
  | ShotCardList
  | DuplicateShotRequest
  | ArchiveRequest
  | ProbeFile
  | ClaimUploadRequest
  | TrackSummary
  | FrameValues
  | RgbValues
  | PointsRequest
  | PointRow
  | PointRows
  | PointJudgements
  | PulledRow
  | PulledRows
  | SpliceReply
  | MarksReply
  | FrontReply
  | SurfaceReply
  | LookReply
  | KeepLookRequest
  | SavedLookList
  | ArchiveManifest
  | ArchivedProject
  | ArchivedShot
  | ArchiveReply
  | Batch
  | KeyedEdges
  | Levels
  | Grain
  | Reflections
  | ScreenTexture
  | CastLight
  | LookReasons
  | Board
  | EasingRule
  | KeyedNumber
  | KeyedPair
  | KeyedSides
  | ContentPlace
  | ContentTiming
  | BeyondEnds
  | SurfaceMesh
  | ShotDocument
  | StoredFollowState
  | LightColour
  | FrontShape
  | ColourKey
  | CleanFixFile
  | ScreenMarkers
  | SpillSettings
  | SpillArea
  | DifferenceMatte
  | EdgeColours
  | JobWork
  | JobShown
  | ShownRender
  | FollowJob
  | Look
  | LoopJob
  | ShotLoop
  | SplitLine
  | LoopReport
  | FrameSpan
  | TransferCurveName
  | PrimariesSetName
  | QuarterTurn
  | YcbcrMatrix
  | CodeRange
  | GapRuleName
  | FieldOrderName
  | MediaCorrections
  | StoredLayout
  | StoredColour
  | StoredFacts
  | CheckRow
  | ProbeCheckRow
  | CheckFinding
  | ReferenceProposal
  | PointsJob
  | NotePlace
  | ReviewVersion
  | ReviewVersionList
  | Review
  | ReviewList
  | NewReviewRequest
  | MadeReview
  | ReviewNote
  | ReviewNoteList
  | NewNoteRequest
  | NewAnswerRequest
  | SettleRequest
  | GuestReview
  | Lens
  | StraightLine
  | LensFromLines
  | BoardsAsked
  | LensFromBoards
  | LensMapAsked
  | LensFromMap
  | LensFile
  | LensAsked
  | RowsAsked
  | FramedPoint
  | SceneJob
  | SceneSettings
  | LensOffer
  | LensOffers
  | PlacedPlane
  | SceneReply
  | SceneFileFrame
  | SceneFilePlane
  | SceneFile
  | RenderLayer
  | DeliveryFormat
  | DeliverySettings
  | RenderRequest
  | JobPriority
  | RenderSpan
  | PlannedMedium
  | RenderPlan
  | ExportChoices
  | ImportMapping
  | ImportRequest
  | ImportReply
  | FinishedReply
  | PartStates
  | FrameState
  | RenderLedger
  | SpliceJob
  | SteadyFile
  | TrackFile
  | Framing
  | VariantRender
  | Variant
  | VariantList
  | NewVariantRequest
  | ChangeVariantRequest
  | VariantTableRequest
  | VariantTableReply
  | RenderVariantsRequest
  | SlotLimits
  | SlotUse
  | Slot
  | SlotList
  | NewSlotRequest
  | MadeSlot
  | GuestFraming
  | GuestContent
  | GuestSlot
  | GuestPreviewRequest
  | GuestPreview;
/**
 * Everything with accounts and tokens; all of the work; looking and noting.
 */
export type Role = 'owner' | 'artist' | 'reviewer';
/**
 * Reading; pinning and answering notes; rendering; changing the work; accounts and tokens.
 */
export type Scope = 'read' | 'note' | 'render' | 'edit' | 'manage';
export type AccountList = Account[];
export type AccessTokenList = AccessToken[];
export type ProjectList = Project[];
/**
 * Degrees clockwise that the stored picture is turned by.
 */
export type QuarterTurn = 0 | 90 | 180 | 270;
export type FieldOrderName = 'progressive' | 'top-first' | 'bottom-first' | 'unknown';
/**
 * Frames per second as an exact fraction.
 *
 * @minItems 2
 * @maxItems 2
 */
export type Rate = [number, number];
export type CodeRange = 'limited' | 'full';
export type TransferCurveName =
  'srgb' | 'bt1886' | 'gamma22' | 'gamma26' | 'gamma28' | 'bt709' | 'linear' | 'pq' | 'hlg' | 'acescc' | 'acescct' | 'log100' | 'log316';
export type PrimariesSetName = 'bt709' | 'bt2020' | 'p3' | 'smpte170m' | 'bt470bg' | 'ap0' | 'ap1';
/**
 * First and last, both included.
 *
 * @minItems 2
 * @maxItems 2
 */
export type FrameSpan = [number, number];
/**
 * Over pictures that are missing the last one before is held, or the sequence stops there.
 */
export type GapRuleName = 'hold' | 'stop';
export type YcbcrMatrix = 'bt709' | 'bt601' | 'bt2020';
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
export type HandlePair = [number, number, number, number];
/**
 * For each point where its incoming and outgoing Bézier handles lie, relative to it; [0, 0, 0, 0] is a corner.
 */
export type CurveHandles = HandlePair[];
/**
 * @minItems 4
 * @maxItems 4
 */
export type QuadCorners = [PointPair, PointPair, PointPair, PointPair];
/**
 * @minItems 2
 * @maxItems 2
 */
export type InnerOuter = [number, number];
/**
 * Inner and outer width of the soft edge, plate pixels.
 *
 * @minItems 2
 * @maxItems 2
 */
export type SoftEdge = [number, number];
/**
 * A number, or keys of it in the order of their frames.
 */
export type KeyedNumber = number | [NumberKey, ...NumberKey[]];
/**
 * How a value goes on to the next key: CSS Easing Functions Level 1, §2.1, §2.2.
 */
export type EasingRule = ('linear' | 'hold') | CubicCurve;
/**
 * @minItems 4
 * @maxItems 4
 */
export type CubicCurve = [number, number, number, number];
/**
 * Of a patch or clone: where it is taken from, in shares, relative.
 *
 * @minItems 2
 * @maxItems 2
 */
export type PointPair1 = [number, number];
/**
 * The plate's lens: told, or to be estimated from the plate.
 */
export type LensAsked = 'estimate' | Lens;
/**
 * Linear light of BT.709 primaries: red, green, blue.
 *
 * @minItems 3
 * @maxItems 3
 */
export type LightColour = [number, number, number];
/**
 * Top, right, bottom, left, plate pixels, or keys of them.
 */
export type KeyedEdges = FourEdges | [EdgesKey, ...EdgesKey[]];
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourEdges = [number, number, number, number];
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourEdges1 = [number, number, number, number];
/**
 * Content pixels cut off the left, top, right and bottom side.
 *
 * @minItems 4
 * @maxItems 4
 */
export type ContentCrop = [number, number, number, number];
/**
 * Swapped left to right, top to bottom.
 *
 * @minItems 2
 * @maxItems 2
 */
export type MirrorPair = [boolean, boolean];
/**
 * Shares of the surface's width and height, right and down.
 *
 * @minItems 2
 * @maxItems 2
 */
export type OffsetPair = [number, number];
/**
 * Factors across and down, about the middle of the surface.
 *
 * @minItems 2
 * @maxItems 2
 */
export type ScalePair = [number, number];
/**
 * Degrees by which uprights lean to the right and levels fall to the right.
 *
 * @minItems 2
 * @maxItems 2
 */
export type ShearPair = [number, number];
/**
 * @minItems 2
 * @maxItems 2
 */
export type CornerShift = [number, number];
/**
 * Width and height of the surface in any unit; as the corners suggest unless given.
 *
 * @minItems 2
 * @maxItems 2
 */
export type SurfaceProportions = [number, number];
/**
 * First and last frame of the content that is used.
 *
 * @minItems 2
 * @maxItems 2
 */
export type TrimSpan = [number, number];
/**
 * What is shown before the first and after the last frame; hold unless given.
 */
export type BeyondEnds = 'hold' | 'loop' | 'ping-pong' | 'nothing';
/**
 * @minItems 2
 * @maxItems 2
 */
export type MeshPoint = [number, number];
/**
 * @minItems 4
 * @maxItems 4
 */
export type ScreenMarker = [number, number, number, number];
/**
 * Marks on the screen that are not in front: middle and half width and height, shares of the surface.
 *
 * @maxItems 200
 */
export type ScreenMarkers = ScreenMarker[];
/**
 * #rrggbb or #rrggbbaa, display codes.
 */
export type InkColour = string;
/**
 * Two numbers, or keys of them.
 */
export type KeyedPair = NumberPair | [PairKey, ...PairKey[]];
/**
 * @minItems 2
 * @maxItems 2
 */
export type NumberPair = [number, number];
/**
 * @minItems 2
 * @maxItems 2
 */
export type NumberPair1 = [number, number];
/**
 * Left, top, right, bottom, or keys of them.
 */
export type KeyedSides = FourSides | [SidesKey, ...SidesKey[]];
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourSides = [number, number, number, number];
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourSides1 = [number, number, number, number];
/**
 * @minItems 3
 * @maxItems 3
 */
export type GrainSigma = [number, number, number];
/**
 * Standard deviation of the gaussian that white noise is smoothed by, across and down, plate pixels; 0 leaves it white.
 *
 * @minItems 2
 * @maxItems 2
 */
export type GrainSize = [number, number];
/**
 * Width and height, pixels.
 *
 * @minItems 2
 * @maxItems 2
 */
export type BoxSize = [number, number];
/**
 * What it is compared with; reference unless given.
 */
export type PointMatch = 'previous' | 'reference' | 'key';
/**
 * What its pattern may do; carried by the plane unless given.
 */
export type PointShape = 'translation' | 'similarity' | 'plane';
/**
 * @maxItems 20000
 */
export type HandKeys = HandKeyCorners[];
/**
 * The followed region, the corner points, the hand keys, the plane of the solved scene, the nearest frame of the span before, or another shot of the same plate.
 */
export type MotionSourceName = 'plane' | 'points' | 'keys' | 'scene' | 'hold' | 'shot';
/**
 * How a camera reads its rows: the time from the first to the last as a share of a frame's, negative from below; or to be determined from the shot, and left out where it does not help. All at once unless given.
 */
export type RowsAsked = 'estimate' | number;
export type SteadyPartName = 'position' | 'rotation' | 'scale' | 'perspective';
/**
 * The edge of the glass, or that of the device.
 */
export type BorderName = 'inner' | 'outer';
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourSides2 = [number, number, number, number];
/**
 * @maxItems 20000
 */
export type Corrections = CornerCorrection[];
/**
 * Width and height of the device's screen, in any unit.
 *
 * @minItems 2
 * @maxItems 2
 */
export type Proportions = [number, number];
/**
 * Across and down; 8 each unless given.
 *
 * @minItems 2
 * @maxItems 2
 */
export type GridDivisions = [number, number];
/**
 * Which test card; checks unless given.
 */
export type CardName = 'checks' | 'numbers' | 'corners' | 'rim';
export type RevisionList = Revision[];
/**
 * What looking at so many points costs and gains, tried on three frames.
 */
export type SamplingTrials = SamplingTrialRow[];
/**
 * x and y of the corners in order, pixels of the reference frame.
 *
 * @minItems 8
 * @maxItems 8
 */
export type EightMoves = [number, number, number, number, number, number, number, number];
/**
 * @minItems 4
 * @maxItems 4
 */
export type FourBounds = [number, number, number, number];
/**
 * @minItems 4
 * @maxItems 4
 */
export type MaybeBounds = [number | null, number | null, number | null, number | null];
/**
 * What is made of the finished frames: nothing but themselves, a film, or numbered pictures.
 */
export type DeliveryFormat = 'frames' | 'h264' | 'hevc' | 'vp9' | 'av1' | 'ffv1' | 'png' | 'png16' | 'tiff' | 'exr';
/**
 * The finished picture; the insert alone, premultiplied, with alpha; how much of each pixel it covers; the plate with the screen as it was, cleaned; the surface flattened; what the finished picture changes of the plate; a test card in place of the content.
 */
export type RenderLayer = 'full' | 'insert' | 'matte' | 'clean' | 'flat' | 'difference' | 'card';
/**
 * Later than others, with them, before them.
 */
export type JobPriority = number;
export type JobList = Job[];
/**
 * Row-major 3×3.
 *
 * @minItems 9
 * @maxItems 9
 */
export type NineNumbers = [number, number, number, number, number, number, number, number, number];
/**
 * Covariance of the frame's map, as core/motion/follow/certainty.ts packs it.
 */
export type PackedCertainty = number[];
/**
 * How far off the corners may be (95 %), px, where no covariance tells it.
 *
 * @minItems 4
 * @maxItems 4
 */
export type RowBounds = [number, number, number, number];
export type WorkerList = RenderWorker[];
export type ShotCardList = ShotCard[];
/**
 * @minItems 3
 * @maxItems 3
 */
export type RgbValues = [number, number, number];
export type PointHow = 'reference' | 'matched' | 'hand' | 'reckoned' | 'lost';
export type PointJudgements = PointJudgement[];
export type SavedLookList = SavedLook[];
/**
 * First and last frame, inclusive.
 *
 * @minItems 2
 * @maxItems 2
 */
export type RenderSpan = [number, number];
/**
 * How a frame lies in the frame store.
 */
export type StoredLayout = YcbcrLayout | RgbLayout;
export type Corners = PlannedCorners[];
/**
 * Shares of the picture's width and height.
 *
 * @minItems 2
 * @maxItems 2
 */
export type NotePlace = [number, number];
/**
 * @minItems 3
 * @maxItems 3
 */
export type StoredLight = [number, number, number];
/**
 * @minItems 3
 * @maxItems 3
 */
export type StoredShapeSpread = [number, number, number];
/**
 * @minItems 3
 * @maxItems 3
 */
export type StoredEvidenceSpan = [number, number, 'all' | 'ring'];
/**
 * What a job of the service was asked to do, as it is kept in its row: the kind decides which parameters there are.
 */
export type JobWork =
  BringInWork | CheckWork | FollowWork | PointsWork | PullWork | SeatWork | SceneWork | SteadyWork | BoardWork | LoopWork | RenderWork;
/**
 * @minItems 2
 * @maxItems 2
 */
export type ReviewSpan = [number, number];
export type ReviewVersionList = ReviewVersion[];
export type ReviewList = Review[];
export type ReviewNoteList = ReviewNote[];
export type LensOffers = LensOffer[];
export type FrameState = 'done' | 'stale' | 'missing' | 'failed';
export type SteadyPart = 'position' | 'rotation' | 'scale' | 'perspective';
/**
 * Pixels, in corner order: the circle of this radius about the corner holds the true corner with 95 % certainty.
 *
 * @minItems 4
 * @maxItems 4
 */
export type CornerBounds = [number, number, number, number];
export type VariantList = Variant[];
export type SlotList = Slot[];
/**
 * Shares of the screen's width and height, right and down.
 *
 * @minItems 2
 * @maxItems 2
 */
export type FramingOffset = [number, number];

export interface SignInRequest {
  name: string;
  password: string;
}
export interface SetUpRequest {
  /**
   * What the start of the service said.
   */
  code: string;
  name: string;
  /**
   * At least ten signs.
   */
  password: string;
}
export interface AccessSession {
  /**
   * Whether the service asks who one is.
   */
  needed: boolean;
  /**
   * Whether nobody has an account yet.
   */
  setUp: boolean;
  name: string | null;
  role: Role | null;
  scopes: Scope[];
}
export interface Account {
  id: number;
  name: string;
  role: Role;
  createdAt: string;
}
export interface NewAccountRequest {
  name: string;
  /**
   * At least ten signs.
   */
  password: string;
  role: Role;
}
export interface ChangePasswordRequest {
  current: string;
  /**
   * At least ten signs.
   */
  next: string;
}
export interface AccessToken {
  id: number;
  name: string;
  scopes: Scope[];
  createdAt: string;
  expiresAt: string | null;
  revoked: boolean;
  usedAt: string | null;
}
export interface NewTokenRequest {
  name: string;
  /**
   * @maxItems 24
   */
  scopes: Scope[];
  /**
   * For how long; without end unless given.
   */
  days?: number;
}
export interface MadeToken {
  /**
   * Shown this once; only its hash is kept.
   */
  secret: string;
  token: AccessToken;
}
export interface NameRequest {
  name: string;
}
export interface Project {
  id: number;
  name: string;
  shots: number;
  createdAt: string;
  archived: boolean;
  picture: string | null;
}
export interface Shot {
  id: number;
  projectId: number;
  name: string;
  revision: number;
  plate: Media | null;
  createdAt: string;
  archived: boolean;
}
export interface Media {
  id: number;
  projectId: number;
  name: string;
  bytes: number;
  /**
   * "cleared": its frames were put away to save room and can be made again.
   */
  state: 'waiting' | 'ready' | 'cleared' | 'failed';
  kind: ('clip' | 'still' | 'sequence') | null;
  facts: PlateFacts | null;
  problem: string | null;
  problemCode: string | null;
  corrections: MediaCorrections;
  lut: string | null;
  /**
   * Names how its pictures are shown; part of their addresses.
   */
  view: string;
  /**
   * What its decoded frames take on the disk.
   */
  frameBytes: number;
  checked: boolean;
  usedBy: MediaUse[];
}
export interface PlateFacts {
  width: number;
  height: number;
  rotation: QuarterTurn;
  /**
   * @minItems 2
   * @maxItems 2
   */
  pixelAspect: [number, number];
  fieldOrder: FieldOrderName;
  deinterlace: boolean;
  rate: Rate;
  frames: number;
  firstFrameNumber: number;
  timecode: string | null;
  container: string;
  codec: string;
  pixelFormat: string;
  range: CodeRange;
  matrix: string;
  transfer: TransferCurveName;
  primaries: PrimariesSetName;
  bits: number;
  alpha: boolean;
  doubled: number;
  dropped: number;
  missing: FrameSpan[];
  gaps: GapRuleName | null;
  assumed: string[];
  notes: string[];
}
/**
 * What a person says where the file is wrong or silent.
 */
export interface MediaCorrections {
  rate?: Rate;
  firstFrameNumber?: number;
  /**
   * @minItems 2
   * @maxItems 2
   */
  pixelAspect?: [number, number];
  rotation?: QuarterTurn;
  deinterlace?: boolean;
  gaps?: GapRuleName;
  matrix?: YcbcrMatrix;
  range?: CodeRange;
  transfer?: TransferCurveName;
  primaries?: PrimariesSetName;
}
export interface MediaUse {
  shotId: number;
  shot: string;
  as: 'plate' | 'content';
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
  range?: FrameSpan;
  /**
   * Whether every frame is looked at once more when all are known.
   */
  lastPass?: boolean;
  /**
   * How many points of the regions are looked at on the full picture; chosen by itself unless given.
   */
  points?: number;
  /**
   * @maxItems 200
   */
  cornerPoints?: CornerPoint[];
  handKeys?: HandKeys;
  /**
   * Focal length, pixels.
   */
  focal?: number;
  loop?: ShotLoop;
  lens?: Lens;
  /**
   * Drawn for telling the lens.
   *
   * @maxItems 200
   */
  straightLines?: StraightLine[];
  /**
   * What the surface's motion is made from, in order; the followed region all through unless given.
   *
   * @maxItems 1000
   */
  spans?: MotionSpan[];
  scene?: SceneSettings;
  steady?: SteadyPicture;
  /**
   * Over how many frames a join goes over from one span to the next; 8 unless given.
   */
  fade?: number;
  border?: BorderName;
  outset?: OutsetSides;
  /**
   * Of the surface's corners, pixels of the reference frame.
   */
  cornerRadius?: number;
  corrections?: Corrections;
  /**
   * Whether what the borders show (the seat's measurement) moves the corners on every frame.
   */
  lock?: boolean;
  /**
   * How much the corners' paths are smoothed; not at all unless given.
   */
  smooth?: number;
  /**
   * How far off corners may be before a correction is proposed, pixels; 0.25 unless given.
   */
  tolerance?: number;
  proportions?: Proportions;
  grid?: GridDivisions;
  card?: CardName;
  /**
   * The test card lets half of the plate through.
   */
  cardClear?: boolean;
  /**
   * The shot of the same plate whose track this one moves by; its own regions unless given.
   */
  rides?: number;
  /**
   * Other surfaces of the same plate, shots of their own, that are finished together with this one; the first is the farthest of its kind.
   *
   * @maxItems 24
   */
  others?: OtherSurface[];
  /**
   * Spans of the track that following and clearing leave as they are.
   */
  protect?: FrameSpan[];
  /**
   * Number of the plate's frame 0 in this shot; the plate's own unless given.
   */
  firstFrameNumber?: number;
}
export interface RegionOutline {
  points: Outline;
  handles?: CurveHandles;
  keys?: OutlineKey[];
  /**
   * Drawn, but not looked at.
   */
  off?: boolean;
}
/**
 * What an outline is on another frame; linear between keys.
 */
export interface OutlineKey {
  frame: number;
  points: Outline;
  handles?: CurveHandles;
}
export interface KeepOutOutline {
  points: Outline;
  handles?: CurveHandles;
  keys?: OutlineKey[];
  /**
   * Drawn, but not left out.
   */
  off?: boolean;
  /**
   * Stays where it is in the picture instead of riding with the surface.
   */
  fixed?: boolean;
}
/**
 * How content is made to sit in the plate. Everything is optional.
 */
export interface Look {
  clean?: LookCleaning;
  lens?: LensAsked;
  /**
   * How content meets the surface's proportions; stretch unless said.
   */
  fit?: 'stretch' | 'fit' | 'fill';
  levels?: Levels;
  soften?: KeyedNumber;
  feather?: KeyedEdges;
  opacity?: KeyedNumber;
  /**
   * Degrees: 360 is open for the whole frame; the phase is by how much the shutter's middle comes after the frame's time.
   */
  motionBlur?: {
    shutter?: KeyedNumber;
    phase?: KeyedNumber;
  };
  place?: ContentPlace;
  proportions?: SurfaceProportions;
  time?: ContentTiming;
  mesh?: SurfaceMesh;
  depth?: KeyedNumber;
  /**
   * Keys of the screen's colour; `measure` takes the proposed ones.
   */
  keys?: 'measure' | ColourKey[];
  markers?: ScreenMarkers;
  /**
   * In order, each over what those before it and the keys made.
   *
   * @maxItems 200
   */
  shapes?: FrontShape[];
  difference?: DifferenceMatte;
  spill?: 'measure' | SpillSettings;
  edge?: EdgeColours;
  board?: Board;
  disc?: KeyedNumber;
  exposure?: KeyedNumber;
  gain?: KeyedNumber;
  crop?: KeyedEdges;
  radius?: KeyedNumber;
  /**
   * How content and plate become one; over unless given.
   */
  blend?: 'over' | 'screen' | 'add' | 'lighten' | 'multiply' | 'soft-light';
  /**
   * Whether other ways than over are reckoned in light or in display-referred values; light unless given.
   */
  blendIn?: 'light' | 'display';
  /**
   * Whether the light of the screen as filmed is taken off where content covers it in part; keep unless given.
   */
  oldScreen?: 'keep' | 'edges';
  grain?: Grain;
  reflections?: Reflections;
  texture?: ScreenTexture;
  cast?: CastLight;
  why?: LookReasons;
}
/**
 * What is painted out of the plate before anything else is done to it.
 */
export interface LookCleaning {
  fixes: 'find' | CleanFixFile[];
  /**
   * Whether the plate's own grain is laid over what is filled; it is unless given.
   */
  grain?: boolean;
}
/**
 * Something on the surface, or on its frame, that is painted out on all frames by one fix: within an outline, or within a shape as those in front are (plate px on its home frame, with keys, riding or staying in the picture; its opacity is the fix's).
 */
export interface CleanFixFile {
  name?: string;
  /**
   * In shares of the surface's width and height: 0 to 1, beyond for what is on its frame.
   *
   * @maxItems 2000
   */
  outline?: PointPair[];
  shape?: FrontShape;
  /**
   * From what surrounds it; from another place of the surface, its light matched to what surrounds it; from there as it is; from frames on which nothing hides it, its light matched; or, for a mark under glass, by giving back what it takes from the light, so that what is mirrored over it stays.
   */
  method: 'smooth' | 'patch' | 'clone' | 'frames' | 'glass';
  from?: PointPair1;
  /**
   * Over so many px of the picture it fades into what surrounds it; 1.5 unless given.
   */
  soft?: number;
  /**
   * First and last frame; all unless given.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
  off?: boolean;
}
/**
 * A closed outline in front of the content, or that lets the content through.
 */
export interface FrontShape {
  name?: string;
  points: Outline;
  handles?: CurveHandles;
  /**
   * For each point: inner and outer width of the soft edge, plate pixels, in place of the shape's own.
   *
   * @maxItems 1000
   */
  softness?: InnerOuter[];
  /**
   * @maxItems 10000
   */
  keys?: OutlineKey[];
  /**
   * Whether it moves with the surface or stays in the picture; surface unless given. Points of one that rides are given as the surface lies on the reference frame, whatever the frame they were drawn on.
   */
  rides?: 'surface' | 'plate';
  /**
   * Keep what is in it in front, let the content be seen there, or let nothing outside it stand in front; keep unless given.
   */
  does?: 'keep' | 'remove' | 'within';
  invert?: boolean;
  soft?: SoftEdge;
  opacity?: KeyedNumber;
  /**
   * Smeared by its own motion over the look's shutter.
   */
  blur?: boolean;
  off?: boolean;
  /**
   * The frame on which the shape is as its points tell; the reference frame unless given. On others its keys count.
   */
  home?: number;
}
export interface NumberKey {
  frame: number;
  value: number;
  ease?: EasingRule;
}
/**
 * Radial distortion (Brown–Conrady) about `centre`, from undistorted to distorted, lengths in focal lengths: x·(1 + k1·r² + k2·r⁴ + k3·r⁶).
 */
export interface Lens {
  k1: number;
  k2: number;
  k3: number;
  centre: PointPair;
  /**
   * px
   */
  focal: number;
}
/**
 * What the content's display-referred values 0 and 1 become, and the bend between them; then, in light, how strong its colours are and which.
 */
export interface Levels {
  black?: KeyedNumber;
  white?: KeyedNumber;
  gamma?: KeyedNumber;
  saturation?: KeyedNumber;
  hue?: KeyedNumber;
  tint?: LightColour;
  blackTint?: LightColour;
}
export interface EdgesKey {
  frame: number;
  value: FourEdges1;
  ease?: EasingRule;
}
/**
 * How content lies on the surface beyond its fit; in order: quarter turns and mirror, fit, scale, shear, turn, offset, perspective.
 */
export interface ContentPlace {
  crop?: ContentCrop;
  /**
   * Quarter turns clockwise.
   */
  quarters?: number;
  mirror?: MirrorPair;
  offset?: OffsetPair;
  scale?: ScalePair;
  /**
   * Degrees clockwise.
   */
  turn?: number;
  shear?: ShearPair;
  /**
   * How far each corner of the content is moved, shares of the surface's width and height.
   *
   * @minItems 4
   * @maxItems 4
   */
  perspective?: [CornerShift, CornerShift, CornerShift, CornerShift];
}
/**
 * When the content's frames are shown.
 */
export interface ContentTiming {
  /**
   * The plate frame on which the first used frame of the content is shown; 0 unless given.
   */
  start?: number;
  trim?: TrimSpan;
  /**
   * Content frames by which it is further on.
   */
  offset?: number;
  speed?: KeyedNumber;
  reverse?: boolean;
  before?: BeyondEnds;
  after?: BeyondEnds;
  /**
   * Between two content frames: the one on show at the moment, or both by their shares; nearest unless given.
   */
  rate?: 'nearest' | 'blend';
}
/**
 * A mesh of bicubic patches that bends the surface; its corners keep their places unless moved. `bow` bulges the sides by shares of the width and height.
 */
export interface SurfaceMesh {
  /**
   * Patches across.
   */
  columns: number;
  /**
   * Patches down.
   */
  rows: number;
  bow?: KeyedNumber;
  /**
   * @maxItems 10000
   */
  keys?: MeshKey[];
}
export interface MeshKey {
  frame: number;
  ease?: EasingRule;
  /**
   * Row by row, shares of the flat surface's width and height.
   *
   * @minItems 4
   * @maxItems 289
   */
  points: [MeshPoint, MeshPoint, MeshPoint, MeshPoint, ...MeshPoint[]];
}
/**
 * A colour of the screen that lets the content be seen.
 */
export interface ColourKey {
  colour: LightColour;
  /**
   * Share of the larger of the other two channels, against the smaller, that the key's channel is compared with; 0.5 (their mean) unless given.
   */
  mix?: number;
  /**
   * Up to here it is clear; 0.1 unless given.
   */
  floor?: number;
  /**
   * From here on it is solid; 0.6 unless given.
   */
  ceiling?: number;
  /**
   * By so many plate pixels what is in front grows, or (negative) shrinks.
   */
  grow?: number;
  /**
   * Standard deviation, plate pixels.
   */
  blur?: number;
  /**
   * The key is read from the plate with less noise, edges kept: standard deviation of the window, plate pixels. The picture keeps its grain. 0 unless given.
   */
  denoise?: number;
  /**
   * Beyond the surface's outline the key still works so far, plate pixels; 2 unless given.
   */
  reach?: number;
  off?: boolean;
}
/**
 * What differs from the tracked surface as it is without anything in front.
 */
export interface DifferenceMatte {
  /**
   * Up to so many standard deviations of the screen's own change it is clear; 4 unless given.
   */
  floor?: number;
  /**
   * From so many on it is solid; 12 unless given.
   */
  ceiling?: number;
  grow?: number;
  blur?: number;
  off?: boolean;
}
/**
 * Light of the screen on what stands near it, and what takes its place.
 */
export interface SpillSettings {
  colour?: LightColour;
  /**
   * What the screen's channel is held to: the other two's mean, the larger, or a mix by `weight`; mean unless given.
   */
  limit?: 'mean' | 'larger' | 'weighted';
  /**
   * Share of the larger of the other two.
   */
  weight?: number;
  /**
   * The limit times this; 1 unless given.
   */
  allowance?: number;
  /**
   * Away from the surface, what exceeds the limit so many times has its colour of its own and is left; 2.8 unless given.
   */
  most?: number;
  /**
   * 1 unless given.
   */
  amount?: number;
  /**
   * What takes the place of the removed light: the content's mean light, that of its nearest part, or nothing; average unless given.
   */
  replace?: 'average' | 'nearest' | 'none';
  /**
   * Beyond the surface's outline it works so far, shares of the surface's width; 0.1 unless given.
   */
  window?: number;
  /**
   * Over how much further it fades; 0.5 unless given.
   */
  falloff?: number;
  /**
   * @maxItems 100
   */
  areas?: SpillArea[];
  /**
   * Shift of hue, degrees, and factor of saturation by hue within the window; between them linear around the circle.
   *
   * @maxItems 32
   */
  hues?: HuePoint[];
  off?: boolean;
}
/**
 * A soft window of its own amount.
 */
export interface SpillArea {
  shape: FrontShape;
  /**
   * Whatever of the screen's colour is seen there comes from the screen, as on the device's own frame; else only as much as its light makes.
   */
  lit?: boolean;
  /**
   * 1 unless given.
   */
  amount?: number;
  /**
   * 1 unless given.
   */
  saturation?: number;
  /**
   * Degrees.
   */
  hue?: number;
}
export interface HuePoint {
  hue: number;
  shift?: number;
  saturation?: number;
}
/**
 * Known colours of what is in front, grown outward under its soft edges; in use unless switched off.
 */
export interface EdgeColours {
  /**
   * Soft edges keep the plate's own colours.
   */
  off?: boolean;
}
/**
 * Content made in the screen's own pixels. Keys lie on the plate's frames.
 */
export interface Board {
  format: 'yarlop-board/1';
  width: number;
  height: number;
  background?: InkColour;
  /**
   * The first lies behind.
   *
   * @maxItems 200
   */
  layers: BoardLayer[];
}
/**
 * Position is where the anchor lies on the board, board pixels; the anchor is given in the layer's own pixels from its upper left corner. Scale 1, rotation in degrees clockwise, opacity 1 unless given.
 */
export interface BoardLayer {
  id: string;
  name?: string;
  kind: 'picture' | 'clip' | 'text' | 'solid' | 'rounded';
  off?: boolean;
  /**
   * First plate frame on which it is seen.
   */
  from?: number;
  /**
   * Last one.
   */
  to?: number;
  position?: KeyedPair;
  anchor?: KeyedPair;
  scale?: KeyedPair;
  rotation?: KeyedNumber;
  opacity?: KeyedNumber;
  crop?: KeyedSides;
  width?: number;
  height?: number;
  /**
   * Behind (positive) or in front of the surface, screen widths.
   */
  depth?: number;
  colour?: InkColour;
  radius?: number;
  /**
   * A medium of the project, or a file.
   */
  media?: number | string;
  time?: ContentTiming;
  text?: string;
  font?: 'Archivo' | 'Source Serif 4' | 'JetBrains Mono';
  weight?: 400 | 600 | 700;
  size?: number;
  /**
   * Line height over size.
   */
  leading?: number;
  /**
   * Added between letters, shares of the size.
   */
  tracking?: number;
  align?: 'left' | 'middle' | 'right';
}
export interface PairKey {
  frame: number;
  value: NumberPair1;
  ease?: EasingRule;
}
export interface SidesKey {
  frame: number;
  value: FourSides1;
  ease?: EasingRule;
}
/**
 * Noise as the plate has it, laid on the content anew for each frame.
 */
export interface Grain {
  /**
   * Standard deviation of red, green and blue at display-referred levels 0…1, all as parts of the code of white; straight between, as at the ends beyond.
   *
   * @minItems 1
   * @maxItems 64
   */
  levels: [GrainLevel, ...GrainLevel[]];
  size?: GrainSize;
  /**
   * Correlation of the three channels; 0 unless given.
   */
  together?: number;
  amount?: KeyedNumber;
  off?: boolean;
}
export interface GrainLevel {
  level: number;
  sigma: GrainSigma;
}
/**
 * What the screen mirrors, laid back over the content.
 */
export interface Reflections {
  /**
   * The plate's light within the surface less the dark screen's own; what the keyed screen's colour does not explain; or a drawn shape.
   */
  from: 'dark' | 'key' | 'drawn';
  black?: LightColour;
  gain?: KeyedNumber;
  tint?: LightColour;
  blur?: KeyedNumber;
  shape?: FrontShape;
  colour?: LightColour;
  /**
   * Whether a drawn one stays on the surface or goes as something far away does in a mirror; surface unless given.
   */
  rides?: 'surface' | 'mirror';
  off?: boolean;
}
/**
 * What makes a picture look like a screen's.
 */
export interface ScreenTexture {
  grid?: PixelGrid;
  lines?: ScanLines;
  flicker?: Flicker;
  glow?: ScreenGlow;
  falloff?: ViewingFalloff;
}
/**
 * The panel's pixels of three stripes each, where the plate resolves them, and their moiré.
 */
export interface PixelGrid {
  /**
   * Pixels of the panel across.
   */
  columns: number;
  /**
   * Share of a pixel's side that is dark; 0.25 unless given.
   */
  gap?: number;
  amount?: number;
  /**
   * Red, green and blue side by side; else only the dark lines between pixels.
   */
  stripes?: boolean;
}
export interface ScanLines {
  rows: number;
  amount?: number;
}
export interface Flicker {
  /**
   * Part by which the light swings to either side.
   */
  amount: number;
  /**
   * Swings a second.
   */
  rate: number;
  phase?: number;
}
/**
 * Veiling glare: a share of the content's light spread about it.
 */
export interface ScreenGlow {
  amount: KeyedNumber;
  radius?: KeyedNumber;
}
/**
 * Light times the cosine of the viewing angle to this power.
 */
export interface ViewingFalloff {
  power: number;
}
/**
 * The content's light on what is around the screen.
 */
export interface CastLight {
  /**
   * @maxItems 24
   */
  areas: CastArea[];
  off?: boolean;
}
export interface CastArea {
  name?: string;
  shape: FrontShape;
  strength: KeyedNumber;
}
/**
 * For values that were measured, by their place in the look: from what.
 */
export interface LookReasons {
  [k: string]: LookReason;
}
export interface LookReason {
  says: string;
  certainty: number;
  /**
   * @maxItems 10000
   */
  frames?: number[];
  tint?: LightColour;
  /**
   * @maxItems 200
   */
  places?: MeasuredPlace[];
  /**
   * What the track and the seat were when it was measured.
   */
  basis?: string;
}
export interface MeasuredPlace {
  frame: number;
  points: Outline;
}
/**
 * A point that is followed by the look of its surroundings (core/motion/points).
 */
export interface CornerPoint {
  name: string;
  at: PointPair;
  pattern?: BoxSize;
  search?: BoxSize;
  match?: PointMatch;
  shape?: PointShape;
  /**
   * Whether changing light is compensated; decided frame by frame unless given.
   */
  light?: boolean;
  /**
   * @maxItems 20000
   */
  keys?: CornerPointKey[];
  /**
   * Kept, but neither followed nor used.
   */
  off?: boolean;
  /**
   * Frames on which what was followed is not used.
   *
   * @maxItems 2000
   */
  holes?: FrameSpan[];
  /**
   * Frames on which what was followed stays as it is.
   *
   * @maxItems 2000
   */
  keep?: FrameSpan[];
}
/**
 * Where a point was put by hand on a frame.
 */
export interface CornerPointKey {
  frame: number;
  at: PointPair;
  /**
   * What is seen there is the pattern from then on.
   */
  pattern?: boolean;
}
/**
 * The four corners put by hand on a frame, pixels of that frame.
 */
export interface HandKeyCorners {
  frame: number;
  corners: QuadCorners;
}
/**
 * How the end of a shot goes over into its beginning, or its plate is divided with another take.
 */
export interface ShotLoop {
  /**
   * What is joined: finished pictures, or the plate; finished ones unless given.
   */
  of?: 'finished' | 'plate';
  /**
   * Frames over which it goes over; 12 unless given.
   */
  fade?: number;
  motion?: MotionName;
  region?: Outline;
  /**
   * Solved unless given.
   */
  align?: 'solve' | 'none';
  byHand?: AlignedByNumbers;
  /**
   * Whether light is matched; it is unless given.
   */
  light?: boolean;
  split?: ShotSplit;
  second?: ShotSecondTake;
}
/**
 * How the later picture lies on the earlier one, in place of what would be solved: moved, then turned and scaled about the picture's middle.
 */
export interface AlignedByNumbers {
  move: PointPair;
  /**
   * Degrees, clockwise.
   */
  turn: number;
  scale: number;
}
/**
 * Inside of a shape, or to the right of a line as one looks along it, the other picture comes first. A shape rides on the surface unless it stays in the picture.
 */
export interface ShotSplit {
  shape?: FrontShape;
  line?: SplitLine;
  /**
   * Frame on which the line is given.
   */
  home?: number;
  /**
   * Width of the line's soft edge, px; 20 unless given.
   */
  soft?: number;
}
export interface SplitLine {
  /**
   * @maxItems 24
   */
  points: PointPair[];
  keys?: SplitLineKey[];
}
export interface SplitLineKey {
  frame: number;
  /**
   * @maxItems 24
   */
  points: PointPair[];
}
export interface ShotSecondTake {
  mediaId: number;
  /**
   * Frame f lies beside its frame f + offset.
   */
  offset?: number;
}
/**
 * Places, as filmed on a frame, of something that is straight in the world.
 */
export interface StraightLine {
  frame: number;
  /**
   * @maxItems 200
   */
  points: PointPair[];
}
/**
 * Frames of a surface's motion, and what it is made from.
 */
export interface MotionSpan {
  from: number;
  to: number;
  source: MotionSourceName;
  shot?: number;
}
/**
 * How the camera and the still surroundings of a shot's plate are solved, and the plane of its corners in them.
 */
export interface SceneSettings {
  /**
   * Terms of the lens's distortion that are solved with it; none unless given.
   */
  terms?: 0 | 1 | 2;
  rows?: RowsAsked;
  /**
   * Points put by hand, to be followed too.
   *
   * @maxItems 2000
   */
  drawn?: FramedPoint[];
  /**
   * Places at which followed points are not to count.
   *
   * @maxItems 2000
   */
  removed?: FramedPoint[];
  /**
   * The plane moved by hand: n with n·X = 1 in the camera's axes on the reference frame, three numbers.
   *
   * @maxItems 24
   */
  normal?: number[];
  /**
   * Length of the surface's upper side in the unit that is exported.
   */
  unit?: number;
}
export interface FramedPoint {
  frame: number;
  at: PointPair;
}
/**
 * What of the surface's motion is taken out of the picture where it is looked at, or followed on, steadied (core/motion/steady).
 */
export interface SteadyPicture {
  remove: SteadyPartName[];
  /**
   * 0 unless given: all of it; else only what is faster than a gaussian of this standard deviation, frames.
   */
  smooth?: number;
  /**
   * The shot of the same plate whose track steadies the picture; this shot's own unless given.
   */
  by?: number;
  /**
   * Regions are followed on the picture as `by` steadies it; the track is that of the plate all the same.
   */
  follow?: boolean;
}
/**
 * How far content reaches out over the top, right, bottom and left side; negative: stays within.
 */
export interface OutsetSides {
  /**
   * Pixels of the reference frame, or hundredths of the surface's width and height.
   */
  unit: 'px' | '%';
  sides: FourSides2;
}
/**
 * A keyed move of one corner on top of the track, pixels of the reference frame (core/surface/seat/corrections.ts).
 */
export interface CornerCorrection {
  frame: number;
  /**
   * 0 top-left, 1 top-right, 2 bottom-right, 3 bottom-left.
   */
  corner: number;
  dx: number;
  dy: number;
  /**
   * How it goes on to the next key; single is for its own frame alone. Smooth unless given.
   */
  ease?: 'smooth' | 'linear' | 'hold' | 'single';
  /**
   * 1 unless given.
   */
  strength?: number;
  muted?: boolean;
}
export interface OtherSurface {
  shot: number;
  /**
   * Whether it lies in front of this one.
   */
  nearer: boolean;
  /**
   * The nearer device hides the farther content so far beyond its screen, pixels; 0 unless given.
   */
  border?: number;
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
  /**
   * A followed frame to go on from, onwards or back; what lies beyond it is done again. The reference unless given.
   */
  from?: number;
}
export interface SamplingTrialRow {
  points: number;
  /**
   * Milliseconds a frame.
   */
  cost: number;
  /**
   * Widest bound of a corner, px; null where the region was lost.
   */
  bound: number | null;
  /**
   * Greatest distance of a corner from where the most points put it, px.
   */
  off: number | null;
}
/**
 * What the borders of a surface show of one frame.
 */
export interface SeatFrame {
  frame: number;
  /**
   * What would have to be added to the reference's corners.
   */
  moves: EightMoves | null;
  bounds: FourBounds | null;
  /**
   * Share of the borders' pieces that agree.
   */
  support: number;
  /**
   * How far the furthest corner is off by the track alone, pixels of the frame.
   */
  drift: number;
  /**
   * Columns of the edge slices, base64: eight strips of 49 codes, from the inside outward.
   */
  strips: string;
  /**
   * False where the track has changed since.
   */
  holds: boolean;
}
export interface SeatReply {
  measured: SeatMeasured | null;
  frames: SeatFrame[];
}
export interface SeatMeasured {
  corners: QuadCorners;
  /**
   * How many borders were found along the top, right, bottom and left.
   */
  borders: number[];
  /**
   * Whether locking to the borders makes the corners surer than the track does.
   */
  worth: boolean;
}
export interface SnapRequest {
  frame: number;
  corners: QuadCorners;
  border: BorderName;
}
export interface FoundBorder {
  from: PointPair;
  to: PointPair;
  /**
   * 95 %, pixels.
   */
  bound: number;
  support: number;
  /**
   * Light outside minus light inside.
   */
  contrast: number;
  /**
   * Outward of the side as it was drawn, at its middle, pixels.
   */
  offset: number;
}
export interface SnappedSideReply {
  /**
   * Which of the borders; null where none was found.
   */
  chosen: number | null;
  /**
   * From the inside outward.
   */
  borders: FoundBorder[];
}
export interface SnapReply {
  corners: QuadCorners;
  bounds: MaybeBounds;
  /**
   * @minItems 4
   * @maxItems 4
   */
  sides: [SnappedSideReply, SnappedSideReply, SnappedSideReply, SnappedSideReply];
  /**
   * Of the corners, pixels.
   */
  radius: number;
}
export interface MatchRequest {
  frame: number;
  /**
   * @minItems 1
   * @maxItems 4
   */
  corners: [number] | [number, number] | [number, number, number] | [number, number, number, number];
}
export interface MatchReply {
  corners: MatchedCorner[];
}
export interface MatchedCorner {
  corner: number;
  /**
   * To be added where it is seated now, pixels of the reference.
   */
  dx: number;
  dy: number;
  /**
   * Likeness, 0 to 1.
   */
  score: number;
  bound: number | null;
  refused: ('looks-different' | 'outside' | 'nothing-to-match') | null;
}
/**
 * What of the region did not go with the frames asked for.
 */
export interface DisagreementReply {
  /**
   * On how many frames it is known.
   */
  frames: number;
  mean: StoredDisagreement | null;
}
/**
 * How much of each small square of the region does not go with a frame (core/motion/follow/disagreement.ts).
 */
export interface StoredDisagreement {
  /**
   * Side of a square, reference pixels.
   */
  cell: number;
  left: number;
  top: number;
  columns: number;
  /**
   * Row by row, one sign each: tenths, or a point where nothing is known.
   */
  cells: string;
}
export interface ClearRequest {
  frames: FrameSpan;
}
export interface LoopRequest {
  output: 'mp4' | 'png';
}
export interface SteadyRequest {
  output: 'mp4' | 'png';
  /**
   * What stands where the plate does not reach: its border goes on, the picture is enlarged until nothing is missing, or nothing.
   */
  outside: 'fill' | 'crop' | 'transparent';
}
export interface Job {
  id: number;
  kind: 'bring-in' | 'check' | 'follow' | 'points' | 'pull' | 'seat' | 'scene' | 'steady' | 'board' | 'loop' | 'render';
  projectId: number;
  shotId: number | null;
  mediaId: number | null;
  state: 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';
  done: number;
  total: number;
  problem: string | null;
  result: string | null;
  frames: [number, number] | null;
  render: RenderOfJob | null;
  createdAt: string;
  endedAt: string | null;
}
export interface RenderOfJob {
  /**
   * The row of the table of contents that it shows; null: the shot's own content.
   */
  variant: RenderedVariant | null;
  output: DeliveryFormat;
  layers: RenderLayer[];
  priority: JobPriority;
  version: number;
  /**
   * How many are at it.
   */
  workers: number;
  /**
   * Frames that could not be made.
   */
  failed: number;
  files: DeliveredFile[];
}
export interface RenderedVariant {
  id: number;
  name: string;
}
export interface DeliveredFile {
  name: string;
  layer: RenderLayer;
  bytes: number;
}
export interface TrackRow {
  frame: number;
  runKey: string;
  homography: NineNumbers | null;
  error: number | null;
  confidence: number;
  blur: number;
  certainty: PackedCertainty | null;
  /**
   * What a person should know of a frame that is not lost.
   */
  note: string | null;
  lost: string | null;
  /**
   * What a frame's motion was made from, where a shot's is made from several things.
   */
  source?: string;
  bounds?: RowBounds;
}
export interface TrackRows {
  /**
   * Ask again after this number.
   */
  after: number;
  rows: TrackRow[];
}
/**
 * What the interface shows of the OpenAPI description.
 */
export interface ServiceDescription {
  openapi: string;
  paths: {
    [k: string]: {
      [k: string]: DescribedOperation;
    };
  };
  [k: string]: unknown;
}
export interface DescribedOperation {
  summary: string;
  requestBody?: {
    content: {
      [k: string]: {};
    };
    [k: string]: unknown;
  };
  responses: {
    [k: string]: {};
  };
  parameters?: DescribedParameter[];
  [k: string]: unknown;
}
export interface DescribedParameter {
  name: string;
  in: string;
  description?: string;
  [k: string]: unknown;
}
export interface DocumentReply {
  revision: number;
  document: ShotDocument;
}
export interface JobPriorityRequest {
  priority: JobPriority;
}
export interface RenderWorker {
  name: string;
  machine: string;
  alive: boolean;
  /**
   * Made since it began.
   */
  frames: number;
  seenAt: string;
}
export interface ProblemReply {
  /**
   * RFC 9457: names the kind of problem.
   */
  type?: string;
  /**
   * RFC 9457: the same for all of its kind.
   */
  title?: string;
  status?: number;
  /**
   * RFC 9457: what was wrong and what to do.
   */
  detail?: string;
  instance?: string;
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
export interface CorrectMediaRequest {
  corrections: MediaCorrections;
}
export interface LutRequest {
  name: string;
  text: string;
}
/**
 * Is this file here already? Without a hash: is one of this size here, so that a hash is worth taking?
 */
export interface HeldRequest {
  name: string;
  bytes: number;
  hash?: string;
}
export interface HeldReply {
  maybe: boolean;
  taken: UploadReply | null;
}
export interface FromServerRequest {
  /**
   * Relative to the allowed folder.
   */
  path: string;
}
export interface ServerFolder {
  path: string;
  entries: ServerEntry[];
}
export interface ServerEntry {
  name: string;
  folder: boolean;
  bytes: number;
}
export interface Limits {
  uploadBytes: number;
  serverFolder: boolean;
}
export interface PlateCheck {
  done: boolean;
  rows: CheckRow[];
  findings: CheckFinding[];
  reference: ReferenceProposal | null;
}
export interface CheckRow {
  frame: number;
  /**
   * Relative to the sharpest frames of the shot: 1 is as sharp as they are.
   */
  sharpness: number;
  /**
   * Mean display code, 0 to 1.
   */
  exposure: number;
  /**
   * Standard deviation of display codes, in 255ths.
   */
  noise: number;
  /**
   * Length of motion blur in pixels; 0 where none can be determined.
   */
  blur: number;
  blurAngle: number | null;
  repeats: number | null;
  cut: boolean;
  flash: boolean;
  /**
   * Mean difference from the frame before, 0 to 1.
   */
  change: number;
}
export interface CheckFinding {
  kind: 'blur' | 'fast' | 'repeat' | 'drop' | 'cut' | 'flash' | 'dark' | 'bright';
  frames: FrameSpan;
  amount: number | null;
}
export interface ReferenceProposal {
  frame: number;
  reasons: string[];
}
/**
 * How another plate fits under the work done: frame f of the old one is frame f + offset of the new one.
 */
export interface PlateFit {
  mediaId: number;
  offset: number;
  found: boolean;
  score: number;
  scale: number;
  warnings: string[];
}
export interface ReplacePlateRequest {
  mediaId: number;
  offset: number;
  base: number;
}
export interface Storage {
  media: StorageEntry[];
  renderBytes: number;
  freeBytes: number;
}
export interface StorageEntry {
  mediaId: number;
  name: string;
  fileBytes: number;
  frameBytes: number;
  state: string;
}
export interface SweepReport {
  orphans: number;
  orphanBytes: number;
  missing: string[];
  remade: number;
}
export interface ShotCard {
  shot: Shot;
  document: ShotDocument;
  runKey: string;
  track: TrackSummary;
  /**
   * How far off the corners may be, mean over the frames, pixels; null where the borders were not looked at.
   */
  seatOff: number | null;
  contentName: string | null;
  render: RenderSummary | null;
  changedAt: string;
  picture: string | null;
}
/**
 * Frames of a track, counted; the error is the mean of those that hold.
 */
export interface TrackSummary {
  held: number;
  lost: number;
  doubtful: number;
  outdated: number;
  error: number | null;
}
export interface RenderSummary {
  frames: number;
  total: number;
  state: 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';
}
export interface DuplicateShotRequest {
  name: string;
}
export interface ArchiveRequest {
  archived: boolean;
}
/**
 * What "yarlop probe" writes.
 */
export interface ProbeFile {
  width: number;
  height: number;
  rate: Rate;
  frames: number;
  firstFrame: number;
  bitDepth: number;
  transfer: TransferCurveName;
  primaries?: PrimariesSetName;
  matrix?: string;
  range: CodeRange;
  /**
   * @minItems 2
   * @maxItems 2
   */
  pixelAspect?: [number, number];
  rotation?: QuarterTurn;
  fieldOrder?: FieldOrderName;
  timecode?: string | null;
  container?: string;
  codec?: string;
  pixelFormat?: string;
  assumed: string[];
  missing: FrameSpan[];
  notes: string[];
  check?: ProbeCheckRow[];
  findings?: string[];
  proposedReference?: number;
  referenceReasons?: string[];
}
export interface ProbeCheckRow {
  frame: number;
  sharpness: number;
  exposure: number;
  noise: number;
  blur: number;
  blurAngle?: number;
  repeats?: number;
  cut?: boolean;
  flash?: boolean;
}
export interface ClaimUploadRequest {
  uploadId: string;
  name: string;
}
/**
 * Values of a part of a frame in the plate's own coding, 0 to 1; floating point may go beyond.
 */
export interface FrameValues {
  mean: RgbValues;
  darkest: RgbValues;
  brightest: RgbValues;
}
export interface PointsRequest {
  direction: 'forward' | 'backward' | 'both';
  /**
   * Which points; all that are switched on unless given.
   *
   * @maxItems 200
   */
  names?: string[];
  frames?: FrameSpan;
  /**
   * A frame on which the points are known, to go on from; the reference unless given.
   */
  from?: number;
}
export interface PointRow {
  name: string;
  frame: number;
  at: PointPair | null;
  how: PointHow;
  score: number;
  bound: number;
  light: boolean;
  /**
   * Whether compensating light, which was switched off, would have helped.
   */
  lightWanted: boolean;
  note: string | null;
}
export interface PointRows {
  after: number;
  rows: PointRow[];
}
export interface PointJudgement {
  name: string;
  hold: 'corner' | 'edge' | 'flat' | 'outside';
  warning: string | null;
}
export interface PulledRow {
  frame: number;
  corners: QuadCorners;
  confidence: number;
  /**
   * @minItems 4
   * @maxItems 4
   */
  bounds: [number, number, number, number];
  moved: number;
}
export interface PulledRows {
  after: number;
  rows: PulledRow[];
}
export interface SpliceReply {
  joins: SpanJoin[];
  /**
   * Why keyed corners are not posed.
   */
  why: string | null;
}
export interface SpanJoin {
  frame: number;
  /**
   * How far apart both sides put the worst corner there, px; null where one says nothing there.
   */
  jump: number | null;
  fade: FrameSpan | null;
}
/**
 * Marks found on the surface, as fixes that paint them out; none where it shows none.
 */
export interface MarksReply {
  /**
   * @maxItems 500
   */
  fixes: CleanFixFile[];
}
/**
 * What is proposed for the front of a shot: no key where the screen shows no colour to key by.
 */
export interface FrontReply {
  /**
   * @maxItems 24
   */
  keys: ColourKey[];
  markers: ScreenMarkers;
  spill: SpillSettings | null;
  why: LookReasons;
}
/**
 * A shot as another one of the same plate needs it: its document, and where its corners are.
 */
export interface SurfaceReply {
  shot: number;
  name: string;
  document: ShotDocument;
  frames: SurfaceFrame[];
}
export interface SurfaceFrame {
  frame: number;
  corners: QuadCorners;
}
/**
 * A look that was measured on the plate; each value with its reason.
 */
export interface LookReply {
  look: Look;
}
/**
 * A look to keep under a name; what is keyed is taken as it is on the frame.
 */
export interface KeepLookRequest {
  name: string;
  look: Look;
  frame: number;
}
export interface SavedLook {
  id: number;
  name: string;
  look: Look;
  createdAt: string;
}
export interface ArchiveManifest {
  format: 'yarlop-archive/1';
  madeBy: string;
  madeAt: string;
  parts: ArchivePart[];
}
export interface ArchivePart {
  file: string;
  sha256: string;
  bytes: number;
  /**
   * For a person: a shot's or a medium's name.
   */
  what: string;
}
export interface ArchivedProject {
  name: string;
  media: ArchivedMedium[];
  looks: ArchivedLook[];
}
export interface ArchivedMedium {
  key: number;
  name: string;
  hash: string;
  bytes: number;
  corrections: MediaCorrections;
  lut: ArchivedLut | null;
}
export interface ArchivedLut {
  name: string;
  hash: string;
}
export interface ArchivedLook {
  name: string;
  look: Look;
}
export interface ArchivedShot {
  key: number;
  name: string;
  plate: number | null;
  /**
   * The oldest first.
   */
  revisions: ShotDocument[];
  track: TrackRow[];
  points: PointRow[];
  pulled: PulledRow[];
  /**
   * Its table of contents.
   */
  variants?: ArchivedVariant[];
  scene?: ArchivedScene;
  /**
   * Frames that were made of it, where they are in the archive.
   */
  finished?: ArchivedFrame[];
  /**
   * Renders of its finished picture that have notes, or all where renders go along; the oldest first. Links to look at them do not go along: who may look is said anew where they come in.
   */
  versions?: ArchivedVersion[];
  seat: ArchivedSeat | null;
}
export interface ArchivedVariant {
  key?: number;
  name: string;
  media: number | null;
  framing: Framing;
}
/**
 * How a variant's content lies on the surface and when it is shown, in place of the shot's own.
 */
export interface Framing {
  fit?: 'stretch' | 'fit' | 'fill';
  place?: ContentPlace;
  time?: ContentTiming;
}
/**
 * Camera and still points of its plate.
 */
export interface ArchivedScene {
  question: string;
  scene: SceneFile;
  plane: PlacedPlane | null;
}
/**
 * Camera and still points of a plate. Unit of length: the scene's own.
 */
export interface SceneFile {
  format: 'yarlop-scene/1';
  pixelCentre: 'half' | 'integer';
  width: number;
  height: number;
  rate: Rate;
  motion: 'still' | 'turns' | 'walks';
  zooms: boolean;
  focalKnown: boolean;
  centre: PointPair;
  k1: number;
  k2: number;
  /**
   * Root mean square reprojection error, px.
   */
  rms: number;
  sigma: number;
  share: number;
  frames: SceneFileFrame[];
  /**
   * x, y, z, first and last frame on which the point is followed.
   */
  points: number[][];
  plane?: SceneFilePlane;
  /**
   * The time from the first row to the last as a share of a frame's, where rows are read one after the other. Cameras are those of the frames' own times, the middle row's.
   */
  rows?: number;
  notes: string[];
}
export interface SceneFileFrame {
  frame: number;
  focal: number;
  /**
   * Nine numbers, row-major.
   */
  rotation: number[];
  /**
   * t: a point X is seen in the camera's axes at R·X + t.
   */
  position: number[];
  holds: number;
  rms: number;
  /**
   * Lower triangle of 7 × 7: turn, t, logarithm of the focal length; for points seen with σ = 1 px.
   */
  covariance?: number[];
}
export interface SceneFilePlane {
  frame: number;
  corners: QuadCorners;
  /**
   * n with n·X = 1 for the plane's points in that frame's camera axes.
   */
  normal: number[];
  covariance: number[];
}
/**
 * The plane of the corners as it was found.
 */
export interface PlacedPlane {
  frame: number;
  corners: QuadCorners;
  /**
   * @maxItems 24
   */
  normal: number[];
  /**
   * @maxItems 24
   */
  covariance: number[];
  notes: string[];
}
export interface ArchivedFrame {
  layer: RenderLayer;
  frame: number;
  key: string;
  parts: PartStates;
  /**
   * Whose content it shows, by its key; the shot's own unless given.
   */
  variant?: number;
  file: string;
}
export interface PartStates {
  [k: string]: string;
}
export interface ArchivedVersion {
  version: number;
  frames: RenderSpan;
  total: number;
  output: DeliveryFormat;
  layers: RenderLayer[];
  settings: DeliverySettings;
  variant?: ArchivedVersionVariant;
  madeAt: string;
  plan: RenderPlan;
  notes: ArchivedNote[];
}
export interface DeliverySettings {
  /**
   * Of films with loss; good unless given.
   */
  quality?: 'small' | 'good' | 'best';
  /**
   * The coder's constant rate factor, in place of the quality's.
   */
  crf?: number;
  /**
   * Size over the plate's; 1 unless given.
   */
  scale?: number;
  burnIn?: BurnIn;
  /**
   * Frames more at either end, as far as the plate has them; 0 unless given.
   */
  handles?: number;
  /**
   * The plate's own sound in a film; dropped unless given.
   */
  audio?: 'keep' | 'drop';
  /**
   * Of the first frame, hours:minutes:seconds:frames; the plate's unless given.
   */
  timecode?: string;
  /**
   * Number of the first picture; the shot's own unless given.
   */
  firstNumber?: number;
  /**
   * Of file names, with {shot}, {layer}, {version} and {project}.
   */
  pattern?: string;
}
export interface BurnIn {
  frame?: boolean;
  name?: boolean;
  version?: boolean;
}
export interface ArchivedVersionVariant {
  key: number;
  name: string;
}
/**
 * Everything that a shot's frames depend on, as it was when they were asked for.
 */
export interface RenderPlan {
  format: 'yarlop-plan/1';
  /**
   * How frames were made when it was asked for; 1 unless given. The same plan comes to other pictures by another making, so it is part of their names.
   */
  making?: number;
  plate: PlannedMedium;
  /**
   * What is shown.
   */
  media: PlannedMedium[];
  /**
   * The farthest first; at least one.
   */
  surfaces: PlannedSurface[];
}
export interface PlannedMedium {
  id: number;
  name: string;
  hash: string;
  kind: 'clip' | 'still' | 'sequence';
  frames: number;
  store: string;
  facts: StoredFacts;
}
/**
 * Facts of a medium as the database keeps them.
 */
export interface StoredFacts {
  width: number;
  height: number;
  rotation: QuarterTurn;
  /**
   * @minItems 2
   * @maxItems 2
   */
  pixelAspect: [number, number];
  fieldOrder: FieldOrderName;
  deinterlace: boolean;
  rate: Rate;
  frames: number;
  firstFrameNumber: number;
  timecode: string | null;
  container: string;
  codec: string;
  pixelFormat: string;
  colour: StoredColour;
  layout: StoredLayout;
  rawFormat: string;
  plan: number[] | null;
  doubled: number;
  dropped: number;
  missing: FrameSpan[];
  gaps: GapRuleName | null;
  assumed: string[];
  notes: string[];
}
export interface StoredColour {
  transfer: TransferCurveName;
  primaries: PrimariesSetName;
}
export interface YcbcrLayout {
  kind: 'ycbcr';
  width: number;
  height: number;
  coding: StoredCoding;
}
export interface StoredCoding {
  matrix: YcbcrMatrix;
  range: CodeRange;
  bits: number;
  chromaShiftX: 0 | 1;
  chromaShiftY: 0 | 1;
}
export interface RgbLayout {
  kind: 'rgb';
  width: number;
  height: number;
  bits: 8 | 16 | 32;
  alpha?: boolean;
}
export interface PlannedSurface {
  /**
   * Whether it is the shot's own.
   */
  own: boolean;
  border: number;
  document: ShotDocument;
  corners: Corners;
}
export interface PlannedCorners {
  frame: number;
  corners: QuadCorners;
}
export interface ArchivedNote {
  frame: number;
  at: NotePlace;
  author: string;
  words: string;
  createdAt: string;
  settled: boolean;
  answers: ArchivedAnswer[];
}
export interface ArchivedAnswer {
  author: string;
  words: string;
  createdAt: string;
}
export interface ArchivedSeat {
  referenceFrame: number;
  corners: QuadCorners;
  borders: number[];
  worth: boolean;
  frames: SeatFrame[];
}
export interface ArchiveReply {
  projectId: number;
  shots: number;
  media: number;
  /**
   * Parts that are not whole, by name; they were left out.
   */
  damaged: string[];
  /**
   * Media whose files are neither in the archive nor here.
   */
  missing: string[];
}
/**
 * Many shots, each with the commands that are run on it in order.
 */
export interface Batch {
  format: 'yarlop-batch/1';
  /**
   * @maxItems 10000
   */
  shots: BatchShot[];
}
export interface BatchShot {
  name: string;
  /**
   * What paths are relative to, itself relative to the batch file; its own folder unless given.
   */
  folder?: string;
  /**
   * @maxItems 100
   */
  steps: BatchStep[];
}
export interface BatchStep {
  /**
   * A command, such as track.
   */
  run: string;
  /**
   * Its options without the dashes; true for a switch.
   */
  with: {
    [k: string]: string | number | boolean;
  };
}
/**
 * Where a follow stands and what it has learnt (core/motion/follow/follow-state.ts).
 */
export interface StoredFollowState {
  referenceDone: boolean;
  leg: number;
  next: number | null;
  held: StoredFit | null;
  pending: StoredFit[];
  proven: number;
  follower: StoredFollowerState;
  evidence: StoredEvidenceSpan[];
  bridged: StoredBridged;
}
export interface StoredFit {
  frame: number;
  homography: NineNumbers | null;
  /**
   * Null where there is none (it was infinite).
   */
  error: number | null;
  confidence: number;
  blur: number;
  evidence?: 'all' | 'ring';
  certainty?: StoredCertainty;
  lost?: string;
  note?: string;
  over?: number;
  disagreement?: StoredDisagreement;
}
export interface StoredCertainty {
  motion: MotionName;
  toUnit: NineNumbers;
  covariance: number[];
  timing?: number;
}
export interface StoredFollowerState {
  noise: number;
  usualDetail: number;
  /**
   * @minItems 4
   * @maxItems 4
   */
  usualSides: [number, number, number, number];
  evidence: 'all' | 'ring';
  agreeing: number;
  conflicts: number;
  shutter: StoredShutter;
  shape: StoredShape | null;
  pose: StoredPose | null;
  trust: number[];
  lights: StoredLight[];
  shapes: StoredShapeSpread[];
}
export interface StoredShutter {
  sums: number[];
  frames: number;
}
export interface StoredShape {
  shape: number;
  perspective: number;
}
export interface StoredPose {
  /**
   * @minItems 3
   * @maxItems 3
   */
  known: [number, number, number];
  /**
   * @minItems 9
   * @maxItems 9
   */
  covariance: [number, number, number, number, number, number, number, number, number];
  leftOver: number;
}
export interface StoredBridged {
  bridge: StoredBridge | null;
  tried: number | null;
  candidate: StoredKeyFrame | null;
}
export interface StoredBridge {
  key: StoredKeyFrame;
  follower: StoredFollowerState;
}
export interface StoredKeyFrame {
  frame: number;
  homography: NineNumbers;
  off: number;
  disagreement?: StoredDisagreement;
}
export interface BringInWork {
  kind: 'bring-in';
  params: {};
}
export interface CheckWork {
  kind: 'check';
  params: {};
}
export interface FollowWork {
  kind: 'follow';
  params: {
    direction: 'forward' | 'backward' | 'both';
    frames: RenderSpan;
    from?: number;
    document: ShotDocument;
    /**
     * Names everything that the work depends on.
     */
    runKey: string;
  };
}
export interface PointsWork {
  kind: 'points';
  params: {
    direction: 'forward' | 'backward' | 'both';
    names: string[];
    frames: RenderSpan;
    from?: number;
    document: ShotDocument;
    /**
     * Names everything that the work depends on.
     */
    runKey: string;
  };
}
export interface PullWork {
  kind: 'pull';
  params: {
    frames: RenderSpan;
    document: ShotDocument;
    /**
     * Names everything that the work depends on.
     */
    runKey: string;
  };
}
export interface SeatWork {
  kind: 'seat';
  params: {
    document: ShotDocument;
  };
}
export interface SceneWork {
  kind: 'scene';
  params: {
    frames: RenderSpan;
    document: ShotDocument;
    /**
     * Names everything that the work depends on.
     */
    question: string;
  };
}
export interface SteadyWork {
  kind: 'steady';
  params: {
    frames: RenderSpan;
    output: 'mp4' | 'png';
    outside: 'fill' | 'crop' | 'transparent';
    document: ShotDocument;
  };
}
export interface BoardWork {
  kind: 'board';
  params: {
    frames: RenderSpan;
    board: Board;
  };
}
export interface LoopWork {
  kind: 'loop';
  params: {
    frames: RenderSpan;
    output: 'mp4' | 'png';
    document: ShotDocument;
    /**
     * How finished pictures are made; null where the plate itself is joined.
     */
    plan: RenderPlan | null;
    corners: Corners;
  };
}
export interface RenderWork {
  kind: 'render';
  params: {
    frames: RenderSpan;
    output: DeliveryFormat;
    layers: RenderLayer[];
    settings: DeliverySettings;
    version: number;
    variant?: {
      id: number;
      name: string;
    };
  };
}
/**
 * What lists of jobs show of the parameters, so that none of them reads whole documents.
 */
export interface JobShown {
  frames?: RenderSpan;
  [k: string]: unknown;
}
/**
 * The same of a render.
 */
export interface ShownRender {
  output: DeliveryFormat;
  layers: RenderLayer[];
  version: number;
  variant?: {
    id: number;
    name: string;
  };
  [k: string]: unknown;
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
   * Whether every frame is looked at once more when all are known.
   */
  lastPass?: boolean;
  /**
   * How many points of the regions are looked at on the full picture; chosen by itself unless given.
   */
  points?: number;
  keys?: HandKeys;
  lens?: LensAsked;
  /**
   * First and last frame, inclusive.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
}
/**
 * How the end of a plate goes over into its beginning, or one take into another.
 */
export interface LoopJob {
  pixelCentre: 'half' | 'integer';
  /**
   * First and last frame that are used; all unless given.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
  /**
   * Frames over which it goes over; 12 unless given. Two takes are divided, and do not go over.
   */
  fade?: number;
  motion?: MotionName;
  /**
   * What is to lie on itself; all but the picture's rim unless given.
   *
   * @maxItems 2000
   */
  region?: PointPair[];
  /**
   * What moves by itself.
   */
  keepOut?: KeepOutOutline[];
  /**
   * Solved unless given; with `none`, or `byHand`, nothing is looked for.
   */
  align?: 'solve' | 'none';
  byHand?: AlignedByHand;
  /**
   * Whether light is matched; it is unless given.
   */
  light?: boolean;
  split?: LoopSplit;
  second?: SecondTake;
}
/**
 * Places of the earlier picture (of the first take) and where they are in the other.
 */
export interface AlignedByHand {
  from: QuadCorners;
  to: QuadCorners;
}
/**
 * Inside of a shape, or to the right of a line as one looks along it, the other picture comes first.
 */
export interface LoopSplit {
  shape?: RegionOutline;
  line?: SplitLine;
  /**
   * Frame on which the points are given; the first that is used unless given.
   */
  home?: number;
  /**
   * Width of the soft edge, px; 20 unless given.
   */
  soft?: number;
}
/**
 * Another take, with which this one is divided.
 */
export interface SecondTake {
  /**
   * From where the command runs, or from beside the job.
   */
  plate: string;
  /**
   * Frames by which it is ahead: frame f lies beside its frame f + offset.
   */
  offset?: number;
}
/**
 * What came of a join.
 */
export interface LoopReport {
  format: 'yarlop-loop/1';
  /**
   * @minItems 2
   * @maxItems 2
   */
  frames: [number, number];
  fade?: number;
  /**
   * Frames of the loop.
   */
  length?: number;
  /**
   * What is left between both pictures where they meet.
   */
  jump: JumpLeftOver | null;
  joins: LoopPair[];
}
export interface JumpLeftOver {
  px: number | null;
  levels: number;
}
export interface LoopPair {
  frame: number;
  /**
   * @maxItems 24
   */
  map?: number[];
  error?: number;
  lost?: boolean;
}
/**
 * Points to follow in a plate; with the four corners' names among them they are the track's corners.
 */
export interface PointsJob {
  pixelCentre: 'half' | 'integer';
  referenceFrame: number;
  /**
   * @maxItems 200
   */
  points: CornerPoint[];
  corners?: QuadCorners;
  frames?: FrameSpan;
}
export interface ReviewVersion {
  jobId: number;
  version: number;
  name: string;
  frames: ReviewSpan;
}
export interface Review {
  id: number;
  shotId: number;
  name: string;
  state: 'open' | 'expired' | 'revoked';
  expiresAt: string;
  versions: number[];
}
export interface NewReviewRequest {
  name: string;
  days: number;
  /**
   * Renders of the shot, at least one.
   *
   * @maxItems 24
   */
  versions: number[];
}
export interface MadeReview {
  /**
   * The last part of the link; shown this once.
   */
  secret: string;
  review: Review;
}
export interface ReviewNote {
  id: number;
  jobId: number;
  version: number;
  frame: number;
  at: NotePlace;
  author: string;
  words: string;
  createdAt: string;
  settled: boolean;
  answers: NoteAnswer[];
}
export interface NoteAnswer {
  author: string;
  words: string;
  createdAt: string;
}
export interface NewNoteRequest {
  jobId: number;
  frame: number;
  at: NotePlace;
  author: string;
  words: string;
}
export interface NewAnswerRequest {
  author: string;
  words: string;
}
export interface SettleRequest {
  settled: boolean;
}
export interface GuestReview {
  name: string;
  shot: string;
  first: number;
  rate: number;
  width: number;
  height: number;
  expiresAt: string;
  versions: ReviewVersion[];
  notes: ReviewNoteList;
}
/**
 * The lens that straight lines tell: drawn ones, and the surface's borders over the shot. None where they tell too little.
 */
export interface LensFromLines {
  lens: Lens | null;
  lines: number;
  /**
   * Of the points from their lines once straightened, px.
   */
  rms: number;
  /**
   * And as filmed.
   */
  before: number;
  /**
   * How far off the picture's corners may be by the points' own spread, px; at 95 %.
   */
  bound: number;
}
/**
 * Media of the project that show chessboards: stills, or clips of which some frames are looked at.
 */
export interface BoardsAsked {
  /**
   * @maxItems 60
   */
  media: number[];
}
/**
 * The lens that chessboards tell.
 */
export interface LensFromBoards {
  lens: Lens;
  views: BoardView[];
  /**
   * Of the crossings from where the lens puts them, px.
   */
  rms: number;
  /**
   * Standard deviation of the focal length, px.
   */
  focalSpread: number;
  /**
   * How far off the lens may be at the picture's corners, px; at 95 %.
   */
  bound: number;
  /**
   * How far out boards were seen, of the way to the picture's corners.
   */
  reach: number;
}
export interface BoardView {
  name: string;
  frame: number;
  /**
   * None: no board is seen.
   */
  crossings: number;
  rms: number | null;
}
/**
 * An ST map of the project; whether it takes the lens out of a picture or puts it in.
 */
export interface LensMapAsked {
  media: number;
  takes: 'out' | 'in';
}
/**
 * The radial lens that an ST map is of; px of the plate between both.
 */
export interface LensFromMap {
  lens: Lens;
  rms: number;
  worst: number;
  y: 'down' | 'up';
  /**
   * The other direction, where that explains it much better.
   */
  betterAs: ('out' | 'in') | null;
}
/**
 * A lens for JOB.json and LOOK.json, of pictures of a size; coordinates in the convention given.
 */
export interface LensFile {
  pixelCentre: 'half' | 'integer';
  width: number;
  height: number;
  lens: Lens;
  /**
   * By what, and how well.
   */
  told?: string;
}
/**
 * What to solve the camera and the still surroundings of a plate from, and the corners of a plane in it.
 */
export interface SceneJob {
  pixelCentre: 'half' | 'integer';
  /**
   * The frame on which the corners are seen; keep-outs that are not keyed are drawn on it.
   */
  frame?: number;
  corners?: QuadCorners;
  /**
   * Width over height of what the corners are of.
   */
  proportions?: number;
  /**
   * Focal length, px of the plate, where it is known.
   */
  focal?: number;
  lens?: LensAsked;
  rows?: RowsAsked;
  /**
   * Points put by hand, to be followed too.
   *
   * @maxItems 2000
   */
  drawn?: FramedPoint[];
  /**
   * Places at which followed points are not to count.
   *
   * @maxItems 2000
   */
  removed?: FramedPoint[];
  keepOut?: KeepOutOutline[];
  /**
   * First and last frame, inclusive.
   *
   * @minItems 2
   * @maxItems 2
   */
  frames?: [number, number];
}
/**
 * Another shot's lens.
 */
export interface LensOffer {
  shotId: number;
  shot: string;
  lens: Lens;
}
/**
 * What was solved of a shot; null before. `current`: for the plate, keep-outs and settings as they are now.
 */
export interface SceneReply {
  scene: SceneFile | null;
  plane: PlacedPlane | null;
  current: boolean;
  changed: number;
}
export interface RenderRequest {
  frames: RenderSpan;
  output: DeliveryFormat;
  /**
   * The finished picture unless given.
   *
   * @maxItems 24
   */
  layers?: RenderLayer[];
  /**
   * Of the span, those frames only; all unless given. Frames that are up to date are never made again.
   */
  which?: 'all' | 'missing' | 'stale' | 'failed';
  /**
   * Only each so manieth frame of the span.
   */
  every?: number;
  /**
   * Only those frames of the span.
   *
   * @maxItems 100000
   */
  list?: number[];
  settings?: DeliverySettings;
  priority?: JobPriority;
}
/**
 * How track data are written for somebody else's program.
 */
export interface ExportChoices {
  /**
   * Number of the plate's first frame: 0 unless given, 1, or its own.
   */
  frameBase?: 0 | 1 | 'plate';
  y?: 'down' | 'up';
  /**
   * Where the centre of the first pixel is; as in the track unless given.
   */
  pixelCentre?: 'half' | 'integer';
  /**
   * Of the corners, seen on the content: clockwise from the top left unless given.
   */
  order?: 'clockwise' | 'counter-clockwise' | 'rows' | 'rows-from-below' | 'clockwise-from-below';
  units?: 'pixels' | 'normalised';
  decimals?: number;
  /**
   * Corners with (unless given) or without lock, fixes, outset and smoothing; homographies without (unless given) or with them.
   */
  corrections?: boolean;
  /**
   * Whose pixels: the plate's unless given, the steadied picture's, or those of the plate with its lens taken out.
   */
  picture?: 'plate' | 'steadied' | 'straight';
  /**
   * What homographies lead from: the reference frame unless given, or the surface's own unit square.
   */
  from?: 'reference' | 'surface';
  shutter?: ExportShutter;
}
/**
 * Degrees, written beside.
 */
export interface ExportShutter {
  angle: number;
  phase: number;
}
/**
 * How a table of corners or homographies is meant. Columns count from 0.
 */
export interface ImportMapping {
  /**
   * Column of the frame's number.
   */
  frame: number;
  /**
   * Columns of x and y of the four corners, clockwise from the top left of the content.
   *
   * @maxItems 24
   */
  corners?: number[];
  /**
   * Columns of nine numbers, row-major, reference frame to frame.
   *
   * @maxItems 24
   */
  homography?: number[];
  /**
   * Number of the plate's first frame; 0 unless given.
   */
  frameBase?: number;
  y?: 'down' | 'up';
  pixelCentre?: 'half' | 'integer';
  units?: 'pixels' | 'normalised';
}
export interface ImportRequest {
  text: string;
  mapping?: ImportMapping;
  /**
   * Revision of the document that this is based on.
   */
  base?: number;
  /**
   * Into a second shot with the same plate and document; this one stays as it is.
   */
  copy?: boolean;
}
export interface ImportReply {
  frames: number;
  shotId: number;
  faults: ImportFaultTold[];
}
export interface ImportFaultTold {
  line: number;
  why: string;
}
export interface FinishedReply {
  key: string;
  /**
   * False: it was there already.
   */
  taken: boolean;
}
export interface RenderLedger {
  layer: RenderLayer;
  /**
   * Why nothing can be rendered yet.
   */
  impossible: string | null;
  /**
   * Every frame of the plate, in order.
   */
  frames: LedgerFrame[];
}
export interface LedgerFrame {
  state: FrameState;
  /**
   * What changed since a stale frame was made, or what went wrong.
   */
  why?: string;
  /**
   * Name of the picture of a frame that was made, be it stale.
   */
  key?: string;
}
/**
 * Spans of tracks and of keyed corners that are joined to one motion.
 */
export interface SpliceJob {
  pixelCentre: 'half' | 'integer';
  referenceFrame: number;
  width: number;
  height: number;
  rate: Rate;
  /**
   * Over how many frames a join goes over from one span to the next; 8 unless given.
   */
  fade?: number;
  /**
   * Focal length, pixels.
   */
  focal?: number;
  /**
   * @maxItems 1000
   */
  spans: SpliceJobSpan[];
}
export interface SpliceJobSpan {
  from: number;
  to: number;
  /**
   * A file of format yarlop-track/1, by its path from where the command runs or from beside the job.
   */
  track?: string;
  keys?: HandKeys;
  /**
   * Pull the frames between the keys onto the picture.
   */
  pull?: boolean;
}
/**
 * How a plate was steadied: for each frame the map of its pixels to those of the steadied picture.
 */
export interface SteadyFile {
  format: 'yarlop-steady/1';
  pixelCentre: 'half' | 'integer';
  width: number;
  height: number;
  steadiedWidth: number;
  steadiedHeight: number;
  remove: SteadyPart[];
  smooth: number;
  frames: SteadyFrame[];
}
export interface SteadyFrame {
  frame: number;
  map: NineNumbers;
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
  lens?: Lens;
  /**
   * The plate's own number of frame 0.
   */
  firstFrameNumber?: number;
  seat?: TrackSeat;
  frames: TrackFrame[];
}
/**
 * How the corners came to be where they are (homographies are without, corners with all of it): those of the reference frame before outset and corrections, and what was done to them.
 */
export interface TrackSeat {
  corners: QuadCorners;
  snapped?: BorderName;
  locked?: boolean;
  outset?: OutsetSides;
  corrections?: Corrections;
  smooth?: number;
  /**
   * In words, what was changed and what was found.
   */
  why?: string[];
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
  lock?: EightMoves;
  /**
   * What the frame's motion was made from, where a track is made from several things.
   */
  source?: string;
  /**
   * What a person should know of a frame that is not lost.
   */
  note?: string;
  /**
   * Why this frame could not be followed; homography and corners are absent then.
   */
  lost?: string;
  bound?: CornerBounds;
}
export interface VariantRender {
  jobId: number;
  state: 'queued' | 'running' | 'done' | 'failed' | 'stopped' | 'paused';
  done: number;
  total: number;
  problem: string | null;
  files: VariantFile[];
}
export interface VariantFile {
  name: string;
  bytes: number;
}
export interface Variant {
  id: number;
  shotId: number;
  name: string;
  mediaId: number | null;
  framing: Framing;
  slot: string | null;
  render: VariantRender | null;
}
export interface NewVariantRequest {
  name: string;
  mediaId: number | null;
  framing?: Framing;
}
export interface ChangeVariantRequest {
  name?: string;
  mediaId?: number | null;
  framing?: Framing;
}
export interface VariantTableRequest {
  /**
   * CSV with the columns name and file, and, where wanted, fit and start.
   */
  text: string;
}
export interface VariantTableReply {
  made: number;
  changed: number;
  problems: string[];
  variants: VariantList;
}
export interface RenderVariantsRequest {
  /**
   * All that have content unless given.
   *
   * @maxItems 1000
   */
  variants?: number[];
  request: RenderRequest;
}
export interface SlotLimits {
  /**
   * Of one file.
   */
  bytes: number;
  files: number;
  renders: number;
}
export interface SlotUse {
  files: number;
  renders: number;
}
export interface Slot {
  id: number;
  shotId: number;
  name: string;
  state: 'open' | 'expired' | 'revoked';
  expiresAt: string;
  limits: SlotLimits;
  used: SlotUse;
  variantId: number;
}
export interface NewSlotRequest {
  name: string;
  days: number;
  limits?: SlotLimits;
}
export interface MadeSlot {
  /**
   * The last part of the link; shown this once.
   */
  secret: string;
  slot: Slot;
}
export interface GuestFraming {
  fit: 'stretch' | 'fit' | 'fill';
  offset: FramingOffset;
  scale: number;
  /**
   * The shot's frame on which the content begins.
   */
  start: number;
}
export interface GuestContent {
  name: string;
  state: 'waiting' | 'ready' | 'failed';
  problem: string | null;
  kind: ('clip' | 'still' | 'sequence') | null;
  frames: number | null;
}
export interface GuestSlot {
  name: string;
  frames: number;
  first: number;
  rate: number;
  width: number;
  height: number;
  expiresAt: string;
  limits: SlotLimits;
  used: SlotUse;
  content: GuestContent | null;
  framing: GuestFraming;
  render: VariantRender | null;
  impossible: string | null;
}
export interface GuestPreviewRequest {
  frame: number;
}
export interface GuestPreview {
  ready: boolean;
  key: string | null;
  problem: string | null;
}
