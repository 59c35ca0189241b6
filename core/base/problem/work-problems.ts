import type { ProblemText } from './problem-text.ts';

/** The shot and what is done with it. */
export const WORK_PROBLEMS = {
  'bad-corners': {
    what: '{where}: the corners {why}.',
    remedy:
      'Give them in the order top-left, top-right, bottom-right, bottom-left of the content, as one convex outline.',
  },
  'bad-region': {
    what: '{where}: {field} has {count} points; an outline needs at least 3.',
    remedy: 'Add points, or remove the outline.',
  },
  'bad-key': {
    what: '{where}: {field} on frame {frame} has another number of points than the outline.',
    remedy: 'Give every key (and its handles) as many points as the outline has.',
  },
  'not-followed': {
    what: 'Frame {frame} has not been followed, so nothing can go on from it.',
    remedy: 'Go to a frame that holds, or run from the reference.',
  },
  rides: {
    what: 'This shot rides on the track of {name}.',
    remedy: 'Follow there, or let this one be moved by its own regions first.',
  },
  ridden: {
    what: '{name} is ridden on by {riders}.',
    remedy: 'Let them be moved by their own regions first.',
  },
  'bad-ride': {
    what: 'This shot cannot ride on {name}: {why}.',
    remedy: 'Choose a shot of the same plate that is moved by its own regions.',
  },
  'no-region': {
    what: '{where}: there is no region to follow.',
    remedy: 'Draw an outline around something that moves with the screen.',
  },
  'scene-few-points': {
    what: 'Too few still points were found to solve the scene: {points} on the frame that shows fewest, at least eight are needed (frames {frames}).',
    remedy:
      'Make keep-outs smaller, choose frames that show more of the surroundings, or draw points on what stands still.',
  },
  'scene-frame-unsolved': {
    what: 'On frame {frame} the camera could not be determined, so that no plane can be placed there.',
    remedy: 'Place the corners on another frame.',
  },
  'scene-unsolved': {
    what: 'The scene could not be solved: {why}.',
    remedy: 'Draw keep-outs around everything that moves by itself, shorten the range, or give the focal length.',
  },
  'no-board': {
    what: 'No chessboard was found in {pictures} pictures.',
    remedy: 'Show the whole board, flat, in focus and evenly lit, with squares of ten pixels or more and a white rim.',
  },
  'board-shape': {
    what: '{name} is {size}, the plate {plate}: a lens is estimated from pictures of the same shape.',
    remedy: 'Use pictures that the same camera has taken in the same mode.',
  },
  'lens-map-shape': {
    what: 'The map is {size}, the plate {plate}: it is of another picture.',
    remedy: 'Use a map of this lens and this camera mode, without overscan.',
  },
  'lens-map-none': {
    what: 'The picture is no map of a lens: {why}.',
    remedy:
      'Give an ST map, 16 or 32 bits: red tells the place across, green the place down, 0 to 1 from edge to edge.',
  },
  'loop-too-short': {
    what: 'A loop of {frames} frames is too short to go over {fade} of them: what is left would be no longer than that.',
    remedy: 'Use at least {least} frames, or a shorter fade.',
  },
  'loop-not-aligned': {
    what: '{where}: the two pictures could not be laid on each other: nothing in the region looks alike.',
    remedy: 'Give a region that stands still in both, another motion, or lay them on each other by hand.',
  },
  'nothing-to-follow': { what: '{why}', remedy: 'Reshape the region on the reference frame.' },
  'frame-outside': {
    what: '{where}: frame {frame} is outside the plate, which has frames 0 to {last}.',
    remedy: 'Frames count from 0 at the first frame of the plate.',
  },
  'bad-range': {
    what: '{where}: the range {range} is not first-last with first ≤ last.',
    remedy: 'Write it as 12-48.',
  },
  'size-mismatch': {
    what: 'The track is for {trackSize}, the plate is {plateSize}.',
    remedy: 'Use the track with the plate it was made from, or scale the plate to that size.',
  },
  'nothing-to-measure': {
    what: 'The surface is seen on no frame of the plate, so that nothing tells its look.',
    remedy: 'Follow it, or correct its corners, so that it is in the picture on some frames; then measure again.',
  },
  'track-format': {
    what: '{where} is not a track of format yarlop-track/1.',
    remedy: 'Write it with "yarlop track".',
  },
  'no-plate': { what: 'This shot has no plate yet.', remedy: 'Bring in a clip on the Plate step.' },
  'no-track': { what: 'This shot has not been followed yet.', remedy: 'Run Follow first.' },
  'no-corners': {
    what: 'This shot has no corners yet.',
    remedy: 'Set the four corners on the Seat step.',
  },
  'quad-too-small': {
    what: '{where}: the corners span only {size} px.',
    remedy: 'A surface needs at least 8 px a side to be seated; set the corners on a frame on which it is larger.',
  },
  'no-border': {
    what: 'No straight border is seen near any of the four sides on the reference frame.',
    remedy: 'Draw the corners nearer to the borders, or choose a reference frame on which they are not covered.',
  },
  'no-reference-corners': {
    what: '{where}: the reference frame {frame} has no corners, and none can be led back to it.',
    remedy: 'Use a track whose reference frame was held.',
  },
  'nothing-held': {
    what: '{where}: no frame of the track is held, so there is nothing to seat.',
    remedy: 'Follow the shot first.',
  },
  'no-points': {
    what: '{where}: there are no points to follow.',
    remedy: 'Put at least one point on the reference frame.',
  },
  'no-corner-points': {
    what: '{where}: the four corners are not among the points, and no corners are given.',
    remedy: 'Name four points top-left, top-right, bottom-right and bottom-left, or give "corners".',
  },
  'point-outside': {
    what: '{where}: the pattern of {name} reaches outside the picture on frame {frame}.',
    remedy: 'Move it inside, make its box smaller, or take another reference frame.',
  },
  'point-flat': {
    what: '{where}: there is nothing to hold on to at {name}: flat colour.',
    remedy: 'Move it onto a corner or a mark, or make its pattern larger.',
  },
  'points-on-one-spot': {
    what: '{where}: {name} and {other} lie on one spot.',
    remedy: 'Move one of them away, or remove it.',
  },
  'point-named-twice': {
    what: '{where}: two points are called {name}.',
    remedy: 'Give each a name of its own.',
  },
  'bad-span-source': {
    what: 'A span cannot take its motion from {name}.',
    remedy: 'Choose another shot of the same plate in this project.',
  },
  'steady-by-itself': {
    what: 'A shot cannot be followed on a picture that its own track steadies.',
    remedy: 'Choose another shot of the same plate that has been followed, or follow on the plate itself.',
  },
  'steady-unknown': {
    what: 'The track of {name} says nothing of the reference frame {frame}, so the picture cannot be steadied by it.',
    remedy: 'Follow it there first.',
  },
  'point-box': {
    what: '{where}: the search box of {name} is smaller than its pattern.',
    remedy: 'A search box is as large as the pattern or larger: 130 px for a pattern of 40 px is usual at 4096 wide.',
  },
  'no-keys': {
    what: '{where}: there are no keyed corners.',
    remedy: 'Put the four corners by hand on at least one frame; two or more to go from one to the next.',
  },
  'key-twice': { what: '{where}: frame {frame} is keyed twice.', remedy: 'Keep one key a frame.' },
  'bad-hand-key': {
    what: '{where}: the corners keyed on frame {frame} {why}.',
    remedy:
      'Put them in the order top-left, top-right, bottom-right, bottom-left of the content; turned over they may be, but by way of edge-on.',
  },
  'no-spans': {
    what: '{where}: there are no spans.',
    remedy: 'Give at least one span with a track or with keyed corners.',
  },
  'span-empty': {
    what: '{where}: the span {span} has nothing to take its motion from.',
    remedy: 'Give it a track or keyed corners.',
  },
  'spans-overlap': {
    what: '{where}: the spans {span} and {other} overlap.',
    remedy: 'Let each begin after the one before has ended.',
  },
  'pull-needs-plate': {
    what: '{where}: the keys of span {span} are to be pulled onto the picture, but no plate is given.',
    remedy: 'Add --plate, or leave pull out.',
  },
  'crosses-cut': {
    what: '{where}: there is a cut at frame {frame}.',
    remedy: 'Keep to one side of it: set in and out, or shorten the range.',
  },
  'no-content': {
    what: 'This shot has no content yet.',
    remedy: 'Choose a picture or clip on the Content step.',
  },
  'no-pose': {
    what: 'No frame of {name} tells how a camera sees the surface.',
    remedy: 'Follow it, or set its corners, so that it is seen as a rectangle on some frame.',
  },
  'no-shapes': {
    what: '{name} has no shapes in front.',
    remedy: 'Draw them on the Front step, or give a look that has some (--look).',
  },
  'import-unreadable': {
    what: 'The file cannot be read as corners or homographies: {why}.',
    remedy: 'Say which columns hold the frame and the corners, or save it as CSV or JSON.',
  },
  'import-empty': {
    what: 'No frame of the file can be used. {why}',
    remedy: 'Look at the columns and coordinates that were chosen.',
  },
  'import-reference': {
    what: 'The file says nothing of the reference frame {frame}.',
    remedy: 'Choose a reference frame that is in the file.',
  },
  'archive-unreadable': {
    what: 'The file cannot be read as an archive of a project: {why}.',
    remedy: 'Save it again where it came from (Project → Save all).',
  },
  'archive-no-file': {
    what: 'The file of {name} was not in the archive.',
    remedy: 'Bring the same file in, and choose it on Plate or Content.',
  },
  'server-unreachable': {
    what: 'No server answers at {server} ({why}).',
    remedy: 'Check the address, and that Yarlop runs there.',
  },
  'server-refused': { what: '{message}', remedy: '{remedy}' },
  'job-came-to-nothing': {
    what: 'Job {job} has {state}. {why}',
    remedy: 'Mend that, then start it again: what is done is kept.',
  },
  'batch-failed': {
    what: '{failed} of {count} shots could not be finished: {shots}.',
    remedy: 'Mend what was reported of each, then run the batch again: what is done is not done again.',
  },
  'nothing-to-render': {
    what: 'There is no {which} frame in what was asked for.',
    remedy: 'Choose another span, or render all of it: frames that are up to date are not made again.',
  },
  'film-with-gaps': {
    what: 'A film cannot be made of frames that do not follow one another.',
    remedy: 'Render numbered pictures, or a whole span.',
  },
  'frames-failed': {
    what: '{count} of the frames could not be made; frame {frame}: {why}',
    remedy: 'Mend that, then press Resume: what is done is kept.',
  },
  'job-not-paused': {
    what: 'This job is {state}, so it cannot be {asked}.',
    remedy: 'Wait for it, or start a new one.',
  },
} as const satisfies Record<string, ProblemText>;
