/**
 * Everything that can go wrong through a person's or the outside's doing: HTTP status, what is wrong,
 * what to do. `{name}` is filled in. A test pins the codes.
 */
export const PROBLEMS = {
  // Input of any kind
  'unreadable-json': {
    status: 400,
    what: '{where} is not valid JSON: {why}.',
    remedy: 'Check the file for missing commas, quotes or brackets.',
  },
  'bad-field': { status: 400, what: '{where}: {field} {why}.', remedy: 'Correct this field and try again.' },
  'unknown-option': { status: 400, what: '{why}.', remedy: 'Run "yarlop --help" to see what is understood.' },
  'file-missing': { status: 404, what: 'The file {file} does not exist.', remedy: 'Check the path.' },
  'file-unwritable': {
    status: 400,
    what: '{file} cannot be written: {why}.',
    remedy: 'Choose a folder that exists and that you may write to.',
  },
  // Media
  'animated-webp': {
    status: 415,
    what: '{file} is a moving WebP picture, which cannot be read here.',
    remedy: 'Save it as a GIF, a clip or numbered pictures, and add that.',
  },
  'not-media': {
    status: 415,
    what: '{file} is not a picture or film that can be read ({why}).',
    remedy: 'Bring in an MP4, MOV, MKV, WebM or MXF clip, or PNG, JPEG, TIFF or EXR pictures.',
  },
  'empty-file': { status: 415, what: '{file} is empty (0 bytes).', remedy: 'Copy or export it again.' },
  'no-picture': {
    status: 415,
    what: '{file} has sound but no picture.',
    remedy: 'Bring in the clip that has the picture.',
  },
  'damaged-media': {
    status: 415,
    what: '{file} is damaged: {why}.',
    remedy: 'Copy or export it again; if only its end is missing, trim it to a whole clip first.',
  },
  'too-small-picture': {
    status: 415,
    what: '{file} is {width}×{height}; a plate needs at least 16×16 pixels.',
    remedy: 'Check that the right file was chosen.',
  },
  'too-large-picture': {
    status: 415,
    what: '{file} is {width}×{height}; the limit is {limit} pixels a side.',
    remedy: 'Scale it down first.',
  },
  'sequence-gap': {
    status: 415,
    what: 'The sequence {file} has gaps: missing {missing}.',
    remedy: 'Hold the last picture over the gap, stop before it, or add the missing pictures.',
  },
  'sequence-empty': {
    status: 415,
    what: '{file} holds no numbered pictures.',
    remedy: 'Number them at the end of the name, for instance shot.0001.png.',
  },
  'sequence-mixed': {
    status: 415,
    what: 'The sequence {file} mixes {first} with {odd}.',
    remedy: 'Keep pictures of one name and kind in a sequence.',
  },
  'sequence-sizes': {
    status: 415,
    what: 'The sequence {file} mixes sizes: {first} is {firstSize}, {odd} is {oddSize}.',
    remedy: 'Keep pictures of one size in a sequence.',
  },
  'too-many-frames': {
    status: 415,
    what: '{file} states {frames} frames; the limit is {limit}.',
    remedy: 'Cut it to the part that is needed.',
  },
  'no-room': {
    status: 507,
    what: '{file} needs {needed} of disk when decoded; {free} are free.',
    remedy: 'Free some space, or cut it to the part that is needed.',
  },
  'outside-folder': {
    status: 403,
    what: '{path} is not inside the folder that may be read from.',
    remedy: 'Choose a file inside it, or upload the file.',
  },
  'no-server-folder': {
    status: 403,
    what: 'Files on this machine may not be given by their path: no folder is set.',
    remedy: 'Start with YARLOP_PLATES set to a folder, or upload the file.',
  },
  'frame-gone': {
    status: 410,
    what: 'The decoded frame {frame} is not on the disk.',
    remedy: 'Press "Make frames again" on the Plate step.',
  },
  'other-making': {
    status: 409,
    what: 'This render was asked for by another version of Yarlop, which makes frames otherwise.',
    remedy: 'Render again; what was finished by then stays.',
  },
  'version-frame-gone': {
    status: 410,
    what: 'Frame {frame} of version {version} is not here.',
    remedy: 'Render it again with what it depended on, or bring the project in from an archive with its renders.',
  },
  'frames-cleared': {
    status: 409,
    what: 'The frames of {name} were put away to save room.',
    remedy: 'Press "Make frames again" on the Plate step.',
  },
  'medium-used': { status: 409, what: '{name} is used by {shots}.', remedy: 'Give these shots something else first.' },
  'upload-not-whole': {
    status: 409,
    what: 'Only {have} of {name} ({size}) have come in so far.',
    remedy: 'Send the rest first.',
  },
  'upload-too-large': {
    status: 413,
    what: 'The file has more than {limit}.',
    remedy: 'Cut it to the part that is needed.',
  },
  'zip-unreadable': { status: 415, what: '{file} cannot be unpacked: {why}.', remedy: 'Make the zip again.' },
  'bad-lut': {
    status: 415,
    what: '{file} is not a colour table that can be read: {why}.',
    remedy: 'Export it again as a .cube file.',
  },
  'tool-missing': { status: 503, what: '{tool} is not installed.', remedy: 'Install it: apt-get install {package}.' },
  'tool-failed': {
    status: 500,
    what: '{tool} failed: {why}.',
    remedy: 'Try again; if it happens again, look in the log.',
  },
  'disk-full': {
    status: 507,
    what: 'There is no space left on the disk.',
    remedy: 'Free some space, then start the job again: it goes on where it stopped.',
  },
  // The work
  'bad-corners': {
    status: 400,
    what: '{where}: the corners {why}.',
    remedy:
      'Give them in the order top-left, top-right, bottom-right, bottom-left of the content, as one convex outline.',
  },
  'bad-region': {
    status: 400,
    what: '{where}: {field} has {count} points; an outline needs at least 3.',
    remedy: 'Add points, or remove the outline.',
  },
  'bad-key': {
    status: 400,
    what: '{where}: {field} on frame {frame} has another number of points than the outline.',
    remedy: 'Give every key (and its handles) as many points as the outline has.',
  },
  'not-followed': {
    status: 409,
    what: 'Frame {frame} has not been followed, so nothing can go on from it.',
    remedy: 'Go to a frame that holds, or run from the reference.',
  },
  rides: {
    status: 409,
    what: 'This shot rides on the track of {name}.',
    remedy: 'Follow there, or let this one be moved by its own regions first.',
  },
  ridden: {
    status: 409,
    what: '{name} is ridden on by {riders}.',
    remedy: 'Let them be moved by their own regions first.',
  },
  'bad-ride': {
    status: 409,
    what: 'This shot cannot ride on {name}: {why}.',
    remedy: 'Choose a shot of the same plate that is moved by its own regions.',
  },
  'no-region': {
    status: 400,
    what: '{where}: there is no region to follow.',
    remedy: 'Draw an outline around something that moves with the screen.',
  },
  'scene-few-points': {
    status: 422,
    what: 'Too few still points were found to solve the scene: {points} on the frame that shows fewest, at least eight are needed (frames {frames}).',
    remedy:
      'Make keep-outs smaller, choose frames that show more of the surroundings, or draw points on what stands still.',
  },
  'scene-frame-unsolved': {
    status: 422,
    what: 'On frame {frame} the camera could not be told, so that no plane can be placed there.',
    remedy: 'Place the corners on another frame.',
  },
  'scene-unsolved': {
    status: 422,
    what: 'The scene could not be solved: {why}.',
    remedy: 'Draw keep-outs around everything that moves by itself, shorten the range, or give the focal length.',
  },
  'no-board': {
    status: 422,
    what: 'No chessboard was found in {pictures} pictures.',
    remedy: 'Show the whole board, flat, in focus and evenly lit, with squares of ten pixels or more and a white rim.',
  },
  'board-shape': {
    status: 400,
    what: '{name} is {size}, the plate {plate}: a lens is told by pictures of the same shape.',
    remedy: 'Use pictures that the same camera has taken in the same mode.',
  },
  'lens-map-shape': {
    status: 400,
    what: 'The map is {size}, the plate {plate}: it is of another picture.',
    remedy: 'Use a map of this lens and this camera mode, without overscan.',
  },
  'lens-map-none': {
    status: 422,
    what: 'The picture is no map of a lens: {why}.',
    remedy:
      'Give an ST map, 16 or 32 bits: red tells the place across, green the place down, 0 to 1 from edge to edge.',
  },
  'loop-too-short': {
    status: 422,
    what: 'A loop of {frames} frames is too short to go over {fade} of them: what is left would be no longer than that.',
    remedy: 'Use at least {least} frames, or a shorter fade.',
  },
  'loop-not-aligned': {
    status: 422,
    what: '{where}: the two pictures could not be laid on each other: nothing in the region looks alike.',
    remedy: 'Give a region that stands still in both, another motion, or lay them on each other by hand.',
  },
  'nothing-to-follow': { status: 422, what: '{why}', remedy: 'Reshape the region on the reference frame.' },
  'frame-outside': {
    status: 400,
    what: '{where}: frame {frame} is outside the plate, which has frames 0 to {last}.',
    remedy: 'Frames count from 0 at the first frame of the plate.',
  },
  'bad-range': {
    status: 400,
    what: '{where}: the range {range} is not first-last with first ≤ last.',
    remedy: 'Write it as 12-48.',
  },
  'size-mismatch': {
    status: 409,
    what: 'The track is for {trackSize}, the plate is {plateSize}.',
    remedy: 'Use the track with the plate it was made from, or scale the plate to that size.',
  },
  'nothing-to-measure': {
    status: 409,
    what: 'The surface is seen on no frame of the plate, so that nothing tells its look.',
    remedy: 'Follow it, or correct its corners, so that it is in the picture on some frames; then measure again.',
  },
  'track-format': {
    status: 400,
    what: '{where} is not a track of format yarlop-track/1.',
    remedy: 'Write it with "yarlop track".',
  },
  'no-plate': { status: 409, what: 'This shot has no plate yet.', remedy: 'Bring in a clip on the Plate step.' },
  'no-track': { status: 409, what: 'This shot has not been followed yet.', remedy: 'Run Follow first.' },
  'no-corners': {
    status: 409,
    what: 'This shot has no corners yet.',
    remedy: 'Set the four corners on the Seat step.',
  },
  'quad-too-small': {
    status: 400,
    what: '{where}: the corners span only {size} px.',
    remedy: 'A surface needs at least 8 px a side to be seated; set the corners on a frame on which it is larger.',
  },
  'no-border': {
    status: 422,
    what: 'No straight border is seen near any of the four sides on the reference frame.',
    remedy: 'Draw the corners nearer to the borders, or choose a reference frame on which they are not covered.',
  },
  'no-reference-corners': {
    status: 400,
    what: '{where}: the reference frame {frame} has no corners, and none can be led back to it.',
    remedy: 'Use a track whose reference frame was held.',
  },
  'nothing-held': {
    status: 409,
    what: '{where}: no frame of the track is held, so there is nothing to seat.',
    remedy: 'Follow the shot first.',
  },
  'no-points': {
    status: 400,
    what: '{where}: there are no points to follow.',
    remedy: 'Put at least one point on the reference frame.',
  },
  'no-corner-points': {
    status: 400,
    what: '{where}: the four corners are not among the points, and no corners are given.',
    remedy: 'Name four points top-left, top-right, bottom-right and bottom-left, or give "corners".',
  },
  'point-outside': {
    status: 400,
    what: '{where}: the pattern of {name} reaches outside the picture on frame {frame}.',
    remedy: 'Move it inside, make its box smaller, or take another reference frame.',
  },
  'point-flat': {
    status: 422,
    what: '{where}: there is nothing to hold on to at {name}: flat colour.',
    remedy: 'Move it onto a corner or a mark, or make its pattern larger.',
  },
  'points-on-one-spot': {
    status: 400,
    what: '{where}: {name} and {other} lie on one spot.',
    remedy: 'Move one of them away, or remove it.',
  },
  'point-named-twice': {
    status: 400,
    what: '{where}: two points are called {name}.',
    remedy: 'Give each a name of its own.',
  },
  'bad-span-source': {
    status: 409,
    what: 'A span cannot take its motion from {name}.',
    remedy: 'Choose another shot of the same plate in this project.',
  },
  'steady-by-itself': {
    status: 409,
    what: 'A shot cannot be followed on a picture that its own track steadies.',
    remedy: 'Choose another shot of the same plate that has been followed, or follow on the plate itself.',
  },
  'steady-unknown': {
    status: 409,
    what: 'The track of {name} says nothing of the reference frame {frame}, so the picture cannot be steadied by it.',
    remedy: 'Follow it there first.',
  },
  'point-box': {
    status: 400,
    what: '{where}: the search box of {name} is smaller than its pattern.',
    remedy: 'A search box is as large as the pattern or larger: 130 px for a pattern of 40 px is usual at 4096 wide.',
  },
  'no-keys': {
    status: 400,
    what: '{where}: there are no keyed corners.',
    remedy: 'Put the four corners by hand on at least one frame; two or more to go from one to the next.',
  },
  'key-twice': { status: 400, what: '{where}: frame {frame} is keyed twice.', remedy: 'Keep one key a frame.' },
  'bad-hand-key': {
    status: 400,
    what: '{where}: the corners keyed on frame {frame} {why}.',
    remedy:
      'Put them in the order top-left, top-right, bottom-right, bottom-left of the content; turned over they may be, but by way of edge-on.',
  },
  'no-spans': {
    status: 400,
    what: '{where}: there are no spans.',
    remedy: 'Give at least one span with a track or with keyed corners.',
  },
  'span-empty': {
    status: 400,
    what: '{where}: the span {span} has nothing to take its motion from.',
    remedy: 'Give it a track or keyed corners.',
  },
  'spans-overlap': {
    status: 400,
    what: '{where}: the spans {span} and {other} overlap.',
    remedy: 'Let each begin after the one before has ended.',
  },
  'pull-needs-plate': {
    status: 400,
    what: '{where}: the keys of span {span} are to be pulled onto the picture, but no plate is given.',
    remedy: 'Add --plate, or leave pull out.',
  },
  'crosses-cut': {
    status: 422,
    what: '{where}: there is a cut at frame {frame}.',
    remedy: 'Keep to one side of it: set in and out, or shorten the range.',
  },
  'no-content': {
    status: 409,
    what: 'This shot has no content yet.',
    remedy: 'Choose a picture or clip on the Content step.',
  },
  'no-pose': {
    status: 422,
    what: 'No frame of {name} tells how a camera sees the surface.',
    remedy: 'Follow it, or set its corners, so that it is seen as a rectangle on some frame.',
  },
  'no-shapes': {
    status: 409,
    what: '{name} has no shapes in front.',
    remedy: 'Draw them on the Front step, or give a look that has some (--look).',
  },
  'import-unreadable': {
    status: 400,
    what: 'The file cannot be read as corners or homographies: {why}.',
    remedy: 'Say which columns hold the frame and the corners, or save it as CSV or JSON.',
  },
  'import-empty': {
    status: 400,
    what: 'No frame of the file can be used. {why}',
    remedy: 'Look at the columns and coordinates that were chosen.',
  },
  'import-reference': {
    status: 409,
    what: 'The file says nothing of the reference frame {frame}.',
    remedy: 'Choose a reference frame that is in the file.',
  },
  'archive-unreadable': {
    status: 415,
    what: 'The file cannot be read as an archive of a project: {why}.',
    remedy: 'Save it again where it came from (Project → Save all).',
  },
  'archive-no-file': {
    status: 410,
    what: 'The file of {name} was not in the archive.',
    remedy: 'Bring the same file in, and choose it on Plate or Content.',
  },
  'server-unreachable': {
    status: 503,
    what: 'No server answers at {server} ({why}).',
    remedy: 'Check the address, and that Yarlop runs there.',
  },
  'server-refused': { status: 400, what: '{message}', remedy: '{remedy}' },
  'job-came-to-nothing': {
    status: 500,
    what: 'Job {job} has {state}. {why}',
    remedy: 'Mend that, then start it again: what is done is kept.',
  },
  'batch-failed': {
    status: 500,
    what: '{failed} of {count} shots could not be finished: {shots}.',
    remedy: 'Mend what was told of each, then run the batch again: what is done is not done again.',
  },
  'nothing-to-render': {
    status: 409,
    what: 'There is no {which} frame in what was asked for.',
    remedy: 'Choose another span, or render all of it: frames that are up to date are not made again.',
  },
  'film-with-gaps': {
    status: 400,
    what: 'A film cannot be made of frames that do not follow one another.',
    remedy: 'Render numbered pictures, or a whole span.',
  },
  'frames-failed': {
    status: 500,
    what: '{count} of the frames could not be made; frame {frame}: {why}',
    remedy: 'Mend that, then press Resume: what is done is kept.',
  },
  'job-not-paused': {
    status: 409,
    what: 'This job is {state}, so it cannot be {asked}.',
    remedy: 'Wait for it, or start a new one.',
  },
  // Access
  'unknown-host': {
    status: 421,
    what: 'This machine is not known as {host}.',
    remedy: 'Use its address in figures, or add the name to YARLOP_NAMES and start again.',
  },
  'other-origin': {
    status: 403,
    what: 'The request was sent by a page of {origin}, not of this service.',
    remedy: 'Open the page here, and do it there.',
  },
  'sign-in-needed': {
    status: 401,
    what: 'This service asks who you are.',
    remedy: 'Sign in, or send a token (Authorization: Bearer …).',
  },
  'bad-token': {
    status: 401,
    what: 'The token is not known, has run out or was withdrawn.',
    remedy: 'Ask an owner for a new one.',
  },
  'not-allowed': {
    status: 403,
    what: 'You may not do this: it needs the right to {scope}.',
    remedy: 'Ask an owner for it.',
  },
  'bad-password': {
    status: 401,
    what: 'Name and password do not belong together.',
    remedy: 'Try again; an owner can make a new account.',
  },
  'bad-set-up': {
    status: 403,
    what: 'The code is not the one that was said at the start, or there is an owner already.',
    remedy: 'Take the code from where the service was started.',
  },
  'too-many-tries': { status: 429, what: 'That was tried too often.', remedy: 'Try again in {minutes} minutes.' },
  'name-taken': { status: 409, what: 'There is an account {name} already.', remedy: 'Choose another name.' },
  'last-owner': {
    status: 409,
    what: 'This is the only owner; without one nobody could give rights any more.',
    remedy: 'Make another owner first.',
  },
  'link-gone': {
    status: 404,
    what: 'This link leads nowhere: it was withdrawn, has run out, or is not complete.',
    remedy: 'Ask whoever sent it for a new one.',
  },
  'slot-full': {
    status: 409,
    what: 'This link is good for {limit} {what}, and they are used up.',
    remedy: 'Ask whoever sent it for more.',
  },
  'slot-empty': { status: 409, what: 'There is no content yet.', remedy: 'Choose a picture or film first.' },
  'variant-empty': {
    status: 409,
    what: 'None of the chosen variants has content.',
    remedy: 'Give at least one a picture or film.',
  },
  'bad-table': {
    status: 400,
    what: 'The table cannot be read: {why}.',
    remedy: 'Its first line names the columns: name, file and, where wanted, fit and start.',
  },
  // The service
  'not-found': {
    status: 404,
    what: 'There is no {thing} {id}.',
    remedy: 'It may have been deleted. Go back to the list.',
  },
  'stale-save': {
    status: 409,
    what: 'Somebody saved revision {current} of this shot meanwhile; yours started from {base}.',
    remedy: 'Take theirs, or put yours over it as a new revision.',
  },
  'changed-meanwhile': {
    status: 412,
    what: 'This shot is at revision {current}; the request was for another one.',
    remedy: 'Read it again, and send the change with the ETag that comes with it.',
  },
  'key-used': {
    status: 422,
    what: 'The Idempotency-Key {key} was used for another request.',
    remedy: 'Take a new key for each request.',
  },
  'key-in-work': {
    status: 409,
    what: 'The request with the Idempotency-Key {key} is still being worked on.',
    remedy: 'Ask again in a moment.',
  },
  'job-running': {
    status: 409,
    what: 'A {kind} job is already running on this shot.',
    remedy: 'Wait for it or stop it first.',
  },
  'job-ended': { status: 409, what: 'This job has already ended.', remedy: 'Start a new one.' },
  'no-route': { status: 404, what: 'There is nothing at {path}.', remedy: 'Check the address.' },
  'bad-request': { status: 400, what: 'The request cannot be read: {why}.', remedy: 'Check its address and headers.' },
  internal: {
    status: 500,
    what: 'Something went wrong inside Yarlop (request {id}).',
    remedy: 'Your work is saved. Try again, and report the request number if it happens again.',
  },
  // Starting up
  'bad-setting': {
    status: 500,
    what: 'The setting {name} is "{value}": {why}.',
    remedy: 'Correct it and start again.',
  },
  'port-busy': {
    status: 500,
    what: 'Port {port} is in use by another program.',
    remedy: 'Stop that program, or choose another port with YARLOP_PORT.',
  },
  'data-in-use': {
    status: 500,
    what: 'The data folder {folder} is in use by another Yarlop (process {pid}).',
    remedy: 'Stop that one first, or choose another folder with YARLOP_DATA.',
  },
  'demo-failed': {
    status: 500,
    what: 'The demo project could not be loaded. {why}',
    remedy: 'Then start again: it is loaded anew.',
  },
  'media-unreachable': {
    status: 503,
    what: 'The server at {address} gives no frames: {why}.',
    remedy: 'Check YARLOP_MEDIA and YARLOP_TOKEN, and that the server runs.',
  },
  'database-away': {
    status: 503,
    what: 'The database does not answer at the moment.',
    remedy: 'What is under way goes on as soon as it does; your edits are kept meanwhile.',
  },
  'database-unreachable': {
    status: 500,
    what: 'The database at {address} cannot be reached: {why}.',
    remedy: 'Check its address, name and password in YARLOP_DATABASE, and that it is running.',
  },
  'no-service-here': {
    status: 500,
    what: 'No Yarlop runs on the data folder {folder}.',
    remedy: 'Start it first with YARLOP_DATA set to that folder, or name the database in YARLOP_DATABASE.',
  },
  'database-failed': { status: 500, what: 'The database did not start: {why}.', remedy: 'Look at {log}.' },
} as const satisfies Record<string, { status: number; what: string; remedy: string }>;

export type ProblemCode = keyof typeof PROBLEMS;
