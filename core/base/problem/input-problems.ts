import type { ProblemText } from './problem-text.ts';

/** Input of any kind. */
export const INPUT_PROBLEMS = {
  'unreadable-json': {
    what: '{where} is not valid JSON: {why}.',
    remedy: 'Check the file for missing commas, quotes or brackets.',
  },
  'bad-field': { what: '{where}: {field} {why}.', remedy: 'Correct this field and try again.' },
  'unknown-option': { what: '{why}.', remedy: 'Run "yarlop --help" to see what is understood.' },
  'file-missing': { what: 'The file {file} does not exist.', remedy: 'Check the path.' },
  'file-unwritable': {
    what: '{file} cannot be written: {why}.',
    remedy: 'Choose a folder that exists and that you may write to.',
  },
} as const satisfies Record<string, ProblemText>;
