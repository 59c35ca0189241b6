/**
 * Everything that can go wrong through a person's or the outside's doing: HTTP status, what is wrong,
 * what to do. `{name}` is filled in. A test pins the codes.
 */
export const PROBLEMS = {
  // Input of any kind
  'unreadable-json': { status: 400, what: '{where} is not valid JSON: {why}.', remedy: 'Check the file for missing commas, quotes or brackets.' },
  'bad-field': { status: 400, what: '{where}: {field} {why}.', remedy: 'Correct this field and try again.' },
  'unknown-option': { status: 400, what: '{why}.', remedy: 'Run "yarlop --help" to see what is understood.' },
  'file-missing': { status: 404, what: 'The file {file} does not exist.', remedy: 'Check the path.' },
  'file-unwritable': { status: 400, what: '{file} cannot be written: {why}.', remedy: 'Choose a folder that exists and that you may write to.' },
  // Media
  'not-media': { status: 415, what: '{file} is not a picture or film that can be read ({why}).', remedy: 'Bring in an MP4, MOV, MKV or WebM clip, or PNG or JPEG pictures.' },
  'empty-file': { status: 415, what: '{file} is empty (0 bytes).', remedy: 'Copy or export it again.' },
  'no-picture': { status: 415, what: '{file} has sound but no picture.', remedy: 'Bring in the clip that has the picture.' },
  'damaged-media': { status: 415, what: '{file} is damaged: {why}.', remedy: 'Copy or export it again; if only its end is missing, trim it to a whole clip first.' },
  'too-small-picture': { status: 415, what: '{file} is {width}×{height}; a plate needs at least 16×16 pixels.', remedy: 'Check that the right file was chosen.' },
  'too-large-picture': { status: 415, what: '{file} is {width}×{height}; the limit is {limit} pixels a side.', remedy: 'Scale it down first.' },
  'sequence-gap': { status: 415, what: 'The sequence {file} has gaps: missing {missing}.', remedy: 'Add the missing pictures, or bring in the parts as separate shots.' },
  'sequence-empty': { status: 415, what: '{file} holds no numbered pictures.', remedy: 'Number them at the end of the name, for instance shot.0001.png.' },
  'sequence-mixed': { status: 415, what: 'The sequence {file} mixes {first} with {odd}.', remedy: 'Keep pictures of one name and kind in a sequence.' },
  'upload-too-large': { status: 413, what: 'The file has more than {limit}.', remedy: 'Cut it to the part that is needed.' },
  'zip-unreadable': { status: 415, what: '{file} cannot be unpacked: {why}.', remedy: 'Make the zip again.' },
  'tool-missing': { status: 503, what: '{tool} is not installed.', remedy: 'Install it: apt-get install {package}.' },
  'tool-failed': { status: 500, what: '{tool} failed: {why}.', remedy: 'Try again; if it happens again, look in the log.' },
  'disk-full': { status: 507, what: 'There is no space left on the disk.', remedy: 'Free some space, then start the job again: it goes on where it stopped.' },
  // The work
  'bad-corners': { status: 400, what: '{where}: the corners {why}.', remedy: 'Give them in the order top-left, top-right, bottom-right, bottom-left of the content, as one convex outline.' },
  'bad-region': { status: 400, what: '{where}: {field} has {count} points; an outline needs at least 3.', remedy: 'Add points, or remove the outline.' },
  'no-region': { status: 400, what: '{where}: there is no region to follow.', remedy: 'Draw an outline around something that moves with the screen.' },
  'nothing-to-follow': { status: 422, what: '{why}', remedy: 'Reshape the region on the reference frame.' },
  'frame-outside': { status: 400, what: '{where}: frame {frame} is outside the plate, which has frames 0 to {last}.', remedy: 'Frames count from 0 at the first frame of the plate.' },
  'bad-range': { status: 400, what: '{where}: the range {range} is not first-last with first ≤ last.', remedy: 'Write it as 12-48.' },
  'size-mismatch': { status: 409, what: 'The track is for {trackSize}, the plate is {plateSize}.', remedy: 'Use the track with the plate it was made from, or scale the plate to that size.' },
  'track-format': { status: 400, what: '{where} is not a track of format yarlop-track/1.', remedy: 'Write it with "yarlop track".' },
  'no-plate': { status: 409, what: 'This shot has no plate yet.', remedy: 'Bring in a clip on the Plate step.' },
  'no-track': { status: 409, what: 'This shot has not been followed yet.', remedy: 'Run Follow first.' },
  'no-corners': { status: 409, what: 'This shot has no corners yet.', remedy: 'Set the four corners on the Seat step.' },
  'no-content': { status: 409, what: 'This shot has no content yet.', remedy: 'Choose a picture or clip on the Content step.' },
  // The service
  'not-found': { status: 404, what: 'There is no {thing} {id}.', remedy: 'It may have been deleted. Go back to the list.' },
  'stale-save': { status: 409, what: 'Somebody saved revision {current} of this shot meanwhile; yours started from {base}.', remedy: 'Take theirs, or put yours over it as a new revision.' },
  'job-running': { status: 409, what: 'A {kind} job is already running on this shot.', remedy: 'Wait for it or stop it first.' },
  'job-ended': { status: 409, what: 'This job has already ended.', remedy: 'Start a new one.' },
  'no-route': { status: 404, what: 'There is nothing at {path}.', remedy: 'Check the address.' },
  'internal': { status: 500, what: 'Something went wrong inside Yarlop (request {id}).', remedy: 'Your work is saved. Try again, and report the request number if it happens again.' },
  // Starting up
  'bad-setting': { status: 500, what: 'The setting {name} is "{value}": {why}.', remedy: 'Correct it and start again.' },
  'port-busy': { status: 500, what: 'Port {port} is in use by another program.', remedy: 'Stop that program, or choose another port with YARLOP_PORT.' },
  'data-in-use': { status: 500, what: 'The data folder {folder} is in use by another Yarlop (process {pid}).', remedy: 'Stop that one first, or choose another folder with YARLOP_DATA.' },
  'demo-failed': { status: 500, what: 'The demo project could not be loaded. {why}', remedy: 'Then start again: it is loaded anew.' },
  'database-failed': { status: 500, what: 'The database did not start: {why}.', remedy: 'Look at {log}.' },
} as const satisfies Record<string, { status: number; what: string; remedy: string }>;

export type ProblemCode = keyof typeof PROBLEMS;
