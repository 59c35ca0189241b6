import type * as T from './types.ts';

/** The type that each schema describes. */
export interface SchemaTypes {
  job: T.FollowJob;
  look: T.Look;
  board: T.Board;
  points: T.PointsJob;
  splice: T.SpliceJob;
  steady: T.SteadyFile;
  track: T.TrackFile;
  loopJob: T.LoopJob;
  loopReport: T.LoopReport;
  loopRequest: T.LoopRequest;
  sceneJob: T.SceneJob;
  sceneFile: T.SceneFile;
  sceneReply: T.SceneReply;
  lensOffers: T.LensOffer[];
  lensLines: T.LensFromLines;
  boardsAsked: T.BoardsAsked;
  lensBoards: T.LensFromBoards;
  lensMapAsked: T.LensMapAsked;
  lensMap: T.LensFromMap;
  lensFile: T.LensFile;
  placedPlane: T.PlacedPlane;
  document: T.ShotDocument;
  name: T.NameRequest;
  project: T.Project;
  projects: T.ProjectList;
  shot: T.Shot;
  shots: T.ShotList;
  media: T.Media;
  mediaList: T.MediaList;
  shotDetail: T.ShotDetail;
  saveDocument: T.SaveDocumentRequest;
  saved: T.SavedDocument;
  revisions: T.RevisionList;
  choosePlate: T.ChoosePlateRequest;
  followRequest: T.FollowRequest;
  clearRequest: T.ClearRequest;
  samplingTrials: T.SamplingTrials;
  disagreementReply: T.DisagreementReply;
  pointsRequest: T.PointsRequest;
  pointRows: T.PointRows;
  pointJudgements: T.PointJudgements;
  pulledRows: T.PulledRows;
  spliceReply: T.SpliceReply;
  seatReply: T.SeatReply;
  snapRequest: T.SnapRequest;
  snapReply: T.SnapReply;
  matchRequest: T.MatchRequest;
  matchReply: T.MatchReply;
  frontReply: T.FrontReply;
  marksReply: T.MarksReply;
  lookReply: T.LookReply;
  keepLook: T.KeepLookRequest;
  savedLooks: T.SavedLookList;
  surfaceReply: T.SurfaceReply;
  renderRequest: T.RenderRequest;
  steadyRequest: T.SteadyRequest;
  apiJob: T.Job;
  jobs: T.JobList;
  trackRows: T.TrackRows;
  jobPriority: T.JobPriorityRequest;
  documentReply: T.DocumentReply;
  serviceDescription: T.ServiceDescription;
  workers: T.WorkerList;
  ledger: T.RenderLedger;
  renderPlan: T.RenderPlan;
  partStates: T.PartStates;
  finishedReply: T.FinishedReply;
  batch: T.Batch;
  archiveManifest: T.ArchiveManifest;
  archivedProject: T.ArchivedProject;
  archivedShot: T.ArchivedShot;
  archiveReply: T.ArchiveReply;
  importMapping: T.ImportMapping;
  importRequest: T.ImportRequest;
  importReply: T.ImportReply;
  exportChoices: T.ExportChoices;
  signIn: T.SignInRequest;
  setUp: T.SetUpRequest;
  accessSession: T.AccessSession;
  account: T.Account;
  accounts: T.AccountList;
  newAccount: T.NewAccountRequest;
  changePassword: T.ChangePasswordRequest;
  tokens: T.AccessTokenList;
  newToken: T.NewTokenRequest;
  madeToken: T.MadeToken;
  accessToken: T.AccessToken;
  framing: T.Framing;
  variant: T.Variant;
  variants: T.VariantList;
  newVariant: T.NewVariantRequest;
  changeVariant: T.ChangeVariantRequest;
  variantTable: T.VariantTableRequest;
  variantTableReply: T.VariantTableReply;
  renderVariants: T.RenderVariantsRequest;
  slot: T.Slot;
  slots: T.SlotList;
  newSlot: T.NewSlotRequest;
  madeSlot: T.MadeSlot;
  guestFraming: T.GuestFraming;
  guestSlot: T.GuestSlot;
  guestPreviewRequest: T.GuestPreviewRequest;
  guestPreview: T.GuestPreview;
  slotLimits: T.SlotLimits;
  review: T.Review;
  reviewVersions: T.ReviewVersionList;
  reviews: T.ReviewList;
  newReview: T.NewReviewRequest;
  madeReview: T.MadeReview;
  note: T.ReviewNote;
  notes: T.ReviewNoteList;
  newNote: T.NewNoteRequest;
  newAnswer: T.NewAnswerRequest;
  settle: T.SettleRequest;
  guestReview: T.GuestReview;
  problem: T.ProblemReply;
  uploadReply: T.UploadReply;
  health: T.Health;
  correctMedia: T.CorrectMediaRequest;
  lutRequest: T.LutRequest;
  heldRequest: T.HeldRequest;
  heldReply: T.HeldReply;
  fromServerRequest: T.FromServerRequest;
  serverFolder: T.ServerFolder;
  limits: T.Limits;
  checkReply: T.PlateCheck;
  replaceQuery: T.PlateFit;
  replacePlate: T.ReplacePlateRequest;
  storage: T.Storage;
  sweepReply: T.SweepReport;
  shotCards: T.ShotCardList;
  duplicateShot: T.DuplicateShotRequest;
  archive: T.ArchiveRequest;
  probe: T.ProbeFile;
  claimUpload: T.ClaimUploadRequest;
  frameValues: T.FrameValues;
  followState: T.StoredFollowState;
  disagreement: T.StoredDisagreement;
  storedFacts: T.StoredFacts;
  storedCorrections: T.MediaCorrections;
}

export type SchemaName = keyof SchemaTypes;

const BASE = 'https://yarlop.invalid/schemas';
const inMedia = (definition: string): string => `${BASE}/media.schema.json#/definitions/${definition}`;
const inArchive = (definition: string): string => `${BASE}/archive.schema.json#/definitions/${definition}`;
const inSend = (definition: string): string => `${BASE}/send.schema.json#/definitions/${definition}`;
const inAccess = (definition: string): string => `${BASE}/access.schema.json#/definitions/${definition}`;
const inVariants = (definition: string): string => `${BASE}/variants.schema.json#/definitions/${definition}`;
const inReview = (definition: string): string => `${BASE}/review.schema.json#/definitions/${definition}`;
const inApi = (definition: string): string => `${BASE}/api.schema.json#/definitions/${definition}`;

/** Where each schema stands. */
export const SCHEMA_REFERENCES: Readonly<Record<SchemaName, string>> = {
  job: `${BASE}/job.schema.json`, look: `${BASE}/look.schema.json`, board: `${BASE}/board.schema.json`, points: `${BASE}/points.schema.json`, splice: `${BASE}/splice.schema.json`, steady: `${BASE}/steady.schema.json`, track: `${BASE}/track.schema.json`, loopJob: `${BASE}/loop.schema.json#/definitions/loopJob`, loopReport: `${BASE}/loop.schema.json#/definitions/loopReport`, sceneJob: `${BASE}/scene.schema.json#/definitions/sceneJob`, sceneFile: `${BASE}/scene.schema.json#/definitions/sceneFile`, sceneReply: `${BASE}/scene.schema.json#/definitions/sceneReply`, lensOffers: `${BASE}/scene.schema.json#/definitions/lensOffers`, lensLines: `${BASE}/scene.schema.json#/definitions/lensLines`, boardsAsked: `${BASE}/scene.schema.json#/definitions/boardsAsked`, lensBoards: `${BASE}/scene.schema.json#/definitions/lensBoards`, lensMapAsked: `${BASE}/scene.schema.json#/definitions/lensMapAsked`, lensMap: `${BASE}/scene.schema.json#/definitions/lensMap`, lensFile: `${BASE}/scene.schema.json#/definitions/lensFile`, placedPlane: `${BASE}/scene.schema.json#/definitions/placedPlane`, document: `${BASE}/document.schema.json`,
  name: inApi('name'), project: inApi('project'), projects: inApi('projects'), shot: inApi('shot'), shots: inApi('shots'),
  media: inApi('media'), mediaList: inApi('mediaList'), shotDetail: inApi('shotDetail'), saveDocument: inApi('saveDocument'), saved: inApi('saved'),
  revisions: inApi('revisions'), choosePlate: inApi('choosePlate'), followRequest: inApi('followRequest'), clearRequest: inApi('clearRequest'), samplingTrials: inApi('samplingTrials'), disagreementReply: inApi('disagreementReply'),
  pointsRequest: inApi('pointsRequest'), pointRows: inApi('pointRows'), pointJudgements: inApi('pointJudgements'), pulledRows: inApi('pulledRows'),
  spliceReply: inApi('spliceReply'), seatReply: inApi('seatReply'), snapRequest: inApi('snapRequest'), snapReply: inApi('snapReply'), matchRequest: inApi('matchRequest'), matchReply: inApi('matchReply'), frontReply: inApi('frontReply'), marksReply: inApi('marksReply'), lookReply: inApi('lookReply'), keepLook: inApi('keepLook'), savedLooks: inApi('savedLooks'), surfaceReply: inApi('surfaceReply'),
  renderRequest: inSend('request'), ledger: inSend('ledger'), renderPlan: inSend('plan'), partStates: inSend('partStates'), finishedReply: inSend('finishedReply'), batch: `${BASE}/batch.schema.json`, archiveManifest: inArchive('manifest'), archivedProject: inArchive('project'), archivedShot: inArchive('shot'), archiveReply: inArchive('reply'), importMapping: inSend('importMapping'), importRequest: inSend('importRequest'), importReply: inSend('importReply'), exportChoices: inSend('exportChoices'),
  signIn: inAccess('signIn'), setUp: inAccess('setUp'), accessSession: inAccess('session'), account: inAccess('account'), accounts: inAccess('accounts'), newAccount: inAccess('newAccount'), changePassword: inAccess('changePassword'), tokens: inAccess('tokens'), newToken: inAccess('newToken'), madeToken: inAccess('madeToken'), accessToken: inAccess('token'),
  framing: inVariants('framing'), variant: inVariants('variant'), variants: inVariants('variants'), newVariant: inVariants('newVariant'), changeVariant: inVariants('changeVariant'), variantTable: inVariants('table'), variantTableReply: inVariants('tableReply'), renderVariants: inVariants('renderVariants'), slot: inVariants('slot'), slots: inVariants('slots'), newSlot: inVariants('newSlot'), madeSlot: inVariants('madeSlot'), guestFraming: inVariants('guestFraming'), guestSlot: inVariants('guestSlot'), guestPreviewRequest: inVariants('guestPreviewRequest'), guestPreview: inVariants('guestPreview'), slotLimits: inVariants('slotLimits'),
  review: inReview('review'), reviewVersions: inReview('versions'), reviews: inReview('reviews'), newReview: inReview('newReview'), madeReview: inReview('madeReview'), note: inReview('note'), notes: inReview('notes'), newNote: inReview('newNote'), newAnswer: inReview('newAnswer'), settle: inReview('settle'), guestReview: inReview('guestReview'),
  steadyRequest: inApi('steadyRequest'), loopRequest: inApi('loopRequest'),
  apiJob: inApi('job'), jobs: inApi('jobs'), trackRows: inApi('trackRows'), jobPriority: inApi('jobPriority'), documentReply: inApi('documentReply'), serviceDescription: inApi('description'), workers: inApi('workers'), problem: inApi('problem'),
  uploadReply: inApi('uploadReply'), health: inApi('health'),
  correctMedia: inApi('correctMedia'), lutRequest: inApi('lutRequest'), heldRequest: inApi('heldRequest'), heldReply: inApi('heldReply'), fromServerRequest: inApi('fromServerRequest'),
  serverFolder: inApi('serverFolder'), limits: inApi('limits'), checkReply: inApi('checkReply'), replaceQuery: inApi('replaceQuery'), replacePlate: inApi('replacePlate'),
  storage: inApi('storage'), sweepReply: inApi('sweepReply'), shotCards: inApi('shotCards'), duplicateShot: inApi('duplicateShot'), archive: inApi('archive'),
  probe: inApi('probe'), claimUpload: inApi('claimUpload'), frameValues: inApi('frameValues'),
  followState: `${BASE}/follow-state.schema.json`, disagreement: `${BASE}/common.schema.json#/definitions/disagreement`, storedFacts: inMedia('facts'), storedCorrections: inMedia('corrections'),
};
