import type { ProblemText } from './problem-text.ts';

/** Starting up. */
export const START_PROBLEMS = {
  'bad-setting': {
    what: 'The setting {name} is "{value}": {why}.',
    remedy: 'Correct it and start again.',
  },
  'port-busy': {
    what: 'Port {port} is in use by another program.',
    remedy: 'Stop that program, or choose another port with YARLOP_PORT.',
  },
  'data-in-use': {
    what: 'The data folder {folder} is in use by another Yarlop (process {pid}).',
    remedy: 'Stop that one first, or choose another folder with YARLOP_DATA.',
  },
  'demo-failed': {
    what: 'The demo project could not be loaded. {why}',
    remedy: 'Then start again: it is loaded anew.',
  },
  'media-unreachable': {
    what: 'The server at {address} gives no frames: {why}.',
    remedy: 'Check YARLOP_MEDIA and YARLOP_TOKEN, and that the server runs.',
  },
  'database-away': {
    what: 'The database does not answer at the moment.',
    remedy: 'What is under way goes on as soon as it does; your edits are kept meanwhile.',
  },
  'database-unreachable': {
    what: 'The database at {address} cannot be reached: {why}.',
    remedy: 'Check its address, name and password in YARLOP_DATABASE, and that it is running.',
  },
  'no-service-here': {
    what: 'No Yarlop runs on the data folder {folder}.',
    remedy: 'Start it first with YARLOP_DATA set to that folder, or name the database in YARLOP_DATABASE.',
  },
  'database-failed': { what: 'The database did not start: {why}.', remedy: 'Look at {log}.' },
} as const satisfies Record<string, ProblemText>;
