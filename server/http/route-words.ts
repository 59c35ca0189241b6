/** What a route does, and what may stand in its address beside the path. */
export interface RouteWords {
  readonly says: string;
  readonly query?: Readonly<
    Record<string, { type: 'string' | 'integer' | 'number'; says: string; needed?: boolean; known?: readonly string[] }>
  >;
}

const AFTER = { after: { type: 'integer', says: 'Only what changed after this number.' } } as const;

const PAGES = {
  limit: { type: 'integer', says: 'Most rows; where more follow, a Link header leads to them.' },
  after: { type: 'integer', says: 'Only rows after the one with this id.' },
} as const;

/** Every JSON route, by method and path. */
export const ROUTE_WORDS: Readonly<Record<string, RouteWords>> = {
  'get /health': { says: 'Whether the service and its database answer.' },
  'get /limits': { says: 'How large a file may be, and whether files may be taken by their path.' },
  'put /finished/:name': {
    says: 'Hands a finished frame in (the body), as a worker does that does not see the data folder. One that is there already is left.',
  },
  'get /workers': { says: 'Threads that do jobs, on any machine.' },
  'post /storage/sweep': { says: 'Removes files that nothing refers to, and has frames made again that are missing.' },
  'get /projects': { says: 'All projects.', query: PAGES },
  'post /projects': { says: 'Makes a project.' },
  'get /projects/:id': { says: 'A project.' },
  'patch /projects/:id': { says: 'Renames a project.' },
  'delete /projects/:id': { says: 'Deletes a project; it can be brought back.' },
  'post /projects/:id/restore': { says: 'Brings a deleted project back.' },
  'put /projects/:id/archived': { says: 'Puts a project away, or takes it out again.' },
  'post /archives': {
    says: 'Brings in a project that was saved as one file (the body); what of it is damaged is named.',
  },
  'get /projects/:id/cards': { says: 'A project\u2019s shots with how far each is.' },
  'get /projects/:id/storage': { says: 'What a project takes of the disk.' },
  'get /projects/:id/looks': { says: 'Looks that were kept under a name.' },
  'post /projects/:id/looks': { says: 'Keeps a look under a name.' },
  'delete /looks/:id': { says: 'Forgets a look.' },
  'get /projects/:id/media': { says: 'Plates and content of a project.', query: PAGES },
  'post /projects/:id/media': {
    says: 'Brings a file in, in one piece (the body).',
    query: { name: { type: 'string', says: 'The file\u2019s name.', needed: true } },
  },
  'post /projects/:id/media/held': { says: 'Takes a file that is here already, by its checksum.' },
  'post /projects/:id/media/uploaded': {
    says: 'Takes a file that came in by the tus protocol (tus.io, 1.0.0) under /uploads.',
  },
  'post /projects/:id/media/from-server': {
    says: 'Takes a file of this machine from the folder that is set for that.',
  },
  'get /server-files': {
    says: 'What is in the folder that files may be taken from.',
    query: { path: { type: 'string', says: 'A folder in it.' } },
  },
  'get /media/:id': { says: 'A plate or content, with what is known of it.' },
  'delete /media/:id': { says: 'Deletes a medium that nothing uses; it can be brought back.' },
  'post /media/:id/restore': { says: 'Brings a deleted medium back.' },
  'put /media/:id/corrections': { says: 'Says what a file tells wrongly; it is read again.' },
  'post /media/:id/remake': { says: 'Makes frames again that were put away.' },
  'post /media/:id/clear': { says: 'Puts a medium\u2019s frames away to save room.' },
  'put /media/:id/lut': { says: 'Gives a medium a colour table for viewing.' },
  'delete /media/:id/lut': { says: 'Takes its colour table away.' },
  'get /media/:id/check': { says: 'What the plate check found.' },
  'get /media/:id/frames/:frame/values': {
    says: 'Mean, darkest and brightest of a box of pixels.',
    query: {
      x: { type: 'integer', says: 'Left.', needed: true },
      y: { type: 'integer', says: 'Top.', needed: true },
      width: { type: 'integer', says: 'Pixels across.', needed: true },
      height: { type: 'integer', says: 'Pixels down.', needed: true },
    },
  },
  'get /projects/:id/shots': { says: 'Shots of a project.', query: PAGES },
  'post /projects/:id/shots': { says: 'Makes a shot.' },
  'get /shots/:id': { says: 'A shot with its document.' },
  'patch /shots/:id': { says: 'Renames a shot.' },
  'delete /shots/:id': { says: 'Deletes a shot; it can be brought back.' },
  'post /shots/:id/restore': { says: 'Brings a deleted shot back.' },
  'put /shots/:id/archived': { says: 'Puts a shot away, or takes it out again.' },
  'post /shots/:id/duplicate': { says: 'A second shot with the same plate, document and track.' },
  'put /shots/:id/plate': { says: 'Chooses a shot\u2019s plate.' },
  'get /shots/:id/plate-fit': {
    says: 'Whether the work fits another version of the plate.',
    query: {
      media: { type: 'integer', says: 'The other version.', needed: true },
      offset: { type: 'integer', says: 'Frames by which it begins later.' },
    },
  },
  'put /shots/:id/plate/replace': { says: 'Takes another version of the plate under the work done.' },
  'get /shots/:id/document': { says: 'The document as it stands. Its ETag names the revision.' },
  'put /shots/:id/document': {
    says: 'Saves the document as the next revision. Refused when somebody saved meanwhile, by its base or by If-Match.',
  },
  'get /shots/:id/revisions': { says: 'Saved states of the document, the newest first.' },
  'post /shots/:id/revisions/:revision/restore': { says: 'Puts an older state of the document back, as the newest.' },
  'get /shots/:id/ridable': { says: 'Shots whose track this one may ride on.' },
  'post /shots/:id/follow': { says: 'Follows the regions, forward, backward or both ways.' },
  'post /shots/:id/sampling': { says: 'Tries how much of the region is needed.' },
  'get /shots/:id/track': { says: 'What was followed.', query: AFTER },
  'post /shots/:id/track/clear': { says: 'Forgets what was followed in a span.' },
  'get /shots/:id/disagreement': {
    says: 'Where frames disagree with the reference.',
    query: { frames: { type: 'string', says: 'A span such as 3-17.', needed: true } },
  },
  'post /shots/:id/points': { says: 'Follows corner points.' },
  'get /shots/:id/points': { says: 'Where corner points were found.', query: AFTER },
  'get /shots/:id/points/hold': { says: 'What there is to hold on to at each point.' },
  'post /shots/:id/pull': { says: 'Pulls frames between hand keys onto the picture.' },
  'get /shots/:id/pull': { says: 'Frames that were pulled.', query: AFTER },
  'get /shots/:id/joins': { says: 'How spans join.' },
  'get /shots/:id/surface': { says: 'The corners on every frame.' },
  'get /shots/:id/lenses': { says: 'Lenses of the project\u2019s other shots.' },
  'post /shots/:id/lens': {
    says: 'The lens that straight lines tell: those that were drawn, and the surface\u2019s borders.',
  },
  'post /shots/:id/lens/boards': { says: 'The lens that pictures of chessboards tell.' },
  'post /shots/:id/lens/map': { says: 'The lens that an ST map is of.' },
  'post /shots/:id/scene': {
    says: 'Solves the camera and the still surroundings, and places the plane of the corners in them.',
  },
  'get /shots/:id/scene': { says: 'What was solved of the surroundings.' },
  'post /shots/:id/seat': { says: 'Looks at the surface\u2019s borders on all frames.' },
  'get /shots/:id/seat': { says: 'What was seen of the borders.' },
  'post /shots/:id/snap': { says: 'Puts corners onto the borders.' },
  'post /shots/:id/match': { says: 'Compares a corner with the reference frame\u2019s.' },
  'post /shots/:id/front': { says: 'Proposes a key and spill, measured on the plate.' },
  'post /shots/:id/marks': { says: 'Finds marks on the surface, as fixes that paint them out.' },
  'post /shots/:id/look': { says: 'Proposes a look, measured on the plate.' },
  'post /shots/:id/steady': { says: 'Writes the plate steadied.' },
  'post /shots/:id/board-clip': { says: 'Writes the board as a clip.' },
  'post /shots/:id/import': { says: 'Takes corners or homographies that somebody else has made.' },
  'get /shots/:id/ledger': {
    says: 'Of each frame whether it is done, out of date (and why), missing or failed.',
    query: {
      layer: {
        type: 'string',
        says: 'Which layer; the finished picture unless given.',
        known: ['full', 'insert', 'matte', 'clean', 'flat', 'difference', 'card'],
      },
    },
  },
  'post /shots/:id/render': { says: 'Renders frames of a shot as it stands now, and makes films or pictures of them.' },
  'get /shots/:id/jobs': { says: 'Jobs of a shot, the newest first.', query: PAGES },
  'post /shots/:id/loop': {
    says: 'Lets the end of a shot go over into its beginning, or divides it with another take.',
  },
  'get /jobs/:id/loop': { says: 'What came of a loop: how its pairs lie on each other, and the jump that is left.' },
  'get /jobs/:id': { says: 'A job: how far it is, and what came of it.' },
  'post /jobs/:id/stop': { says: 'Stops a job; what is done stays.' },
  'post /jobs/:id/pause': { says: 'Holds a render.' },
  'post /jobs/:id/resume': { says: 'Goes on with a render that was held, stopped or failed.' },
  'get /access/session': { says: 'Who one is here, and whether the service asks.' },
  'post /access/set-up': {
    says: 'Makes the first account, an owner, with the code that the start of the service said.',
  },
  'post /access/sign-in': { says: 'Signs in; the session is a cookie.' },
  'post /access/sign-out': { says: 'Signs out.' },
  'put /access/password': { says: 'Changes one\u2019s own password; elsewhere one is signed out.' },
  'get /access/accounts': { says: 'Accounts.' },
  'post /access/accounts': { says: 'Makes an account.' },
  'delete /access/accounts/:id': { says: 'Removes an account, and signs it out everywhere.' },
  'get /access/tokens': { says: 'Tokens for programs.' },
  'post /access/tokens': { says: 'Makes a token with the scopes that it is to have. Its secret is shown this once.' },
  'delete /access/tokens/:id': { says: 'Withdraws a token.' },
  'get /shots/:id/variants': { says: 'A shot\u2019s table of contents: one track, many contents.', query: PAGES },
  'post /shots/:id/variants': { says: 'Adds a row to the table of contents.' },
  'post /shots/:id/variants/table': {
    says: 'Fills the table of contents from CSV with the columns name and file and, where wanted, fit and start.',
  },
  'post /shots/:id/variants/render': { says: 'Renders rows of the table, all that have content unless given.' },
  'patch /variants/:id': { says: 'Changes a row of the table of contents.' },
  'delete /variants/:id': { says: 'Takes a row out of the table of contents.' },
  'get /shots/:id/slots': { says: 'Slots of a shot: rows that somebody else fills by a link.' },
  'post /shots/:id/slots': {
    says: 'Offers a shot as a slot. The link\u2019s secret is shown this once: /slot/SECRET.',
  },
  'delete /slots/:id': { says: 'Withdraws a slot\u2019s link.' },
  'get /guest/slots/:secret': { says: 'What the holder of a slot\u2019s link may see.' },
  'post /guest/slots/:secret/content': {
    says: 'Puts a picture or film into a slot (the body).',
    query: { name: { type: 'string', says: 'The file\u2019s name.', needed: true } },
  },
  'put /guest/slots/:secret/framing': { says: 'Frames what is in a slot.' },
  'post /guest/slots/:secret/preview': { says: 'Asks for a frame as it will be; asked again until it is ready.' },
  'post /guest/slots/:secret/render': { says: 'Renders a slot as an H.264 film.' },
  'get /shots/:id/versions': { says: 'Renders of a shot that can be looked at beside one another.' },
  'get /shots/:id/reviews': { says: 'Links by which somebody looks at versions of a shot.' },
  'post /shots/:id/reviews': { says: 'Makes such a link. Its secret is shown this once: /review/SECRET.' },
  'delete /reviews/:id': { says: 'Withdraws a review\u2019s link.' },
  'get /shots/:id/notes': { says: 'Notes pinned to frames and places of a shot\u2019s versions.', query: PAGES },
  'post /shots/:id/notes': { says: 'Pins a note.' },
  'post /notes/:id/answers': { says: 'Answers a note.' },
  'put /notes/:id/settled': { says: 'Settles a note, or opens it again.' },
  'get /guest/reviews/:secret': { says: 'What the holder of a review\u2019s link may see.' },
  'post /guest/reviews/:secret/notes': { says: 'Pins a note by a review\u2019s link.' },
  'post /guest/reviews/:secret/notes/:id/answers': { says: 'Answers a note by a review\u2019s link.' },
  'put /jobs/:id/priority': { says: 'Lets a render go before others, or after them.' },
};

/** Addresses that answer with files or events, by path. */
export const FILE_WORDS: Readonly<
  Record<string, { says: string; types: readonly string[]; query?: RouteWords['query'] }>
> = {
  '/openapi.json': { says: 'This description.', types: ['application/json'] },
  '/events': { says: 'Server-sent events: `job` with every change of a job.', types: ['text/event-stream'] },
  '/media/:id/frames/:frame.jpg': { says: 'A frame, light.', types: ['image/jpeg'] },
  '/media/:id/frames/:frame.png': {
    says: 'A frame, exact.',
    types: ['image/png'],
    query: { ev: { type: 'number', says: 'Stops by which it is brightened, \u22128 to 8.' } },
  },
  '/stores/:store/:frame.raw': {
    says: 'A decoded frame as it lies in the store, for workers.',
    types: ['application/octet-stream'],
  },
  '/finished/:key.jpg': { says: 'A finished frame by its key, light.', types: ['image/jpeg'] },
  '/finished/:key.png': { says: 'A finished frame by its key.', types: ['image/png'] },
  '/jobs/:id/frames/:frame.png': { says: 'A frame of a render.', types: ['image/png'] },
  '/jobs/:id/frames/:frame.jpg': { says: 'A frame of a render, light.', types: ['image/jpeg'] },
  '/shots/:id/variants/sheet.jpg': {
    says: 'All rows of the table of contents on one sheet, named.',
    types: ['image/jpeg'],
    query: { frame: { type: 'integer', says: 'Which frame; the first unless given.' } },
  },
  '/guest/slots/:secret/frames/:frame.jpg': {
    says: 'A frame of a slot as it stands, once it was made.',
    types: ['image/jpeg'],
  },
  '/guest/slots/:secret/files/:name': { says: 'What a slot\u2019s render came to.', types: ['video/mp4'] },
  '/guest/reviews/:secret/versions/:version/frames/:frame.jpg': {
    says: 'A frame of a version under review.',
    types: ['image/jpeg'],
  },
  '/jobs/:id/files/:name': {
    says: 'A film, or numbered pictures as a zip, that a render was asked for.',
    types: ['video/mp4', 'video/webm', 'video/x-matroska', 'application/zip'],
  },
  '/jobs/:id/result': { says: 'The first file that came of a job.', types: ['video/mp4', 'application/zip'] },
  '/projects/:id/archive': {
    says: 'A whole project as one file.',
    types: ['application/zip'],
    query: {
      plates: { type: 'string', says: 'Whether plates are in it; yes unless given.', known: ['yes', 'no'] },
      renders: { type: 'string', says: 'Whether finished frames are in it; no unless given.', known: ['yes', 'no'] },
    },
  },
  '/shots/:id/export/:format': {
    says: 'Track data in one of the formats of docs/formats.md, with its choices in the address.',
    types: [
      'text/csv',
      'application/json',
      'text/plain',
      'application/octet-stream',
      'model/gltf+json',
      'application/zip',
    ],
  },
};
