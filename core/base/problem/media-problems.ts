import type { ProblemText } from './problem-text.ts';

/** Plates, content and their frames. */
export const MEDIA_PROBLEMS = {
  'animated-webp': {
    what: '{file} is a moving WebP picture, which cannot be read here.',
    remedy: 'Save it as a GIF, a clip or numbered pictures, and add that.',
  },
  'not-media': {
    what: '{file} is not a picture or film that can be read ({why}).',
    remedy: 'Bring in an MP4, MOV, MKV, WebM or MXF clip, or PNG, JPEG, TIFF or EXR pictures.',
  },
  'empty-file': { what: '{file} is empty (0 bytes).', remedy: 'Copy or export it again.' },
  'no-picture': {
    what: '{file} has sound but no picture.',
    remedy: 'Bring in the clip that has the picture.',
  },
  'damaged-media': {
    what: '{file} is damaged: {why}.',
    remedy: 'Copy or export it again; if only its end is missing, trim it to a whole clip first.',
  },
  'too-small-picture': {
    what: '{file} is {width}×{height}; a plate needs at least 16×16 pixels.',
    remedy: 'Check that the right file was chosen.',
  },
  'too-large-picture': {
    what: '{file} is {width}×{height}; the limit is {limit} pixels a side.',
    remedy: 'Scale it down first.',
  },
  'sequence-gap': {
    what: 'The sequence {file} has gaps: missing {missing}.',
    remedy: 'Hold the last picture over the gap, stop before it, or add the missing pictures.',
  },
  'sequence-empty': {
    what: '{file} holds no numbered pictures.',
    remedy: 'Number them at the end of the name, for instance shot.0001.png.',
  },
  'sequence-mixed': {
    what: 'The sequence {file} mixes {first} with {odd}.',
    remedy: 'Keep pictures of one name and kind in a sequence.',
  },
  'sequence-sizes': {
    what: 'The sequence {file} mixes sizes: {first} is {firstSize}, {odd} is {oddSize}.',
    remedy: 'Keep pictures of one size in a sequence.',
  },
  'too-many-frames': {
    what: '{file} states {frames} frames; the limit is {limit}.',
    remedy: 'Cut it to the part that is needed.',
  },
  'no-room': {
    what: '{file} needs {needed} of disk when decoded; {free} are free.',
    remedy: 'Free some space, or cut it to the part that is needed.',
  },
  'outside-folder': {
    what: '{path} is not inside the folder that may be read from.',
    remedy: 'Choose a file inside it, or upload the file.',
  },
  'no-server-folder': {
    what: 'Files on this machine may not be given by their path: no folder is set.',
    remedy: 'Start with YARLOP_PLATES set to a folder, or upload the file.',
  },
  'frame-gone': {
    what: 'The decoded frame {frame} is not on the disk.',
    remedy: 'Have its frames made again on the Plate step.',
  },
  'other-making': {
    what: 'This render was asked for by another version of Yarlop, which makes frames otherwise.',
    remedy: 'Render again; what was finished by then stays.',
  },
  'version-frame-gone': {
    what: 'Frame {frame} of version {version} is not here.',
    remedy: 'Render it again with what it depended on, or bring the project in from an archive with its renders.',
  },
  'frames-cleared': {
    what: 'The frames of {name} were put away to save room.',
    remedy: 'Have its frames made again on the Plate step.',
  },
  'medium-used': { what: '{name} is used by {shots}.', remedy: 'Give these shots something else first.' },
  'upload-not-whole': {
    what: 'Only {have} of {name} ({size}) have come in so far.',
    remedy: 'Send the rest first.',
  },
  'upload-too-large': {
    what: 'The file has more than {limit}.',
    remedy: 'Cut it to the part that is needed.',
  },
  'zip-unreadable': { what: '{file} cannot be unpacked: {why}.', remedy: 'Make the zip again.' },
  'bad-lut': {
    what: '{file} is not a colour table that can be read: {why}.',
    remedy: 'Export it again as a .cube file.',
  },
  'tool-missing': { what: '{tool} is not installed.', remedy: 'Install it: apt-get install {package}.' },
  'tool-failed': {
    what: '{tool} failed: {why}.',
    remedy: 'Try again; if it happens again, look in the log.',
  },
  'disk-full': {
    what: 'There is no space left on the disk.',
    remedy: 'Free some space, then start the job again: it goes on where it stopped.',
  },
} as const satisfies Record<string, ProblemText>;
