import type { ProblemText } from './problem-text.ts';

/** The service and what others ask of it. */
export const SERVICE_PROBLEMS = {
  'not-found': {
    what: 'There is no {thing} {id}.',
    remedy: 'It may have been deleted. Go back to the list.',
  },
  'stale-save': {
    what: 'Somebody saved revision {current} of this shot meanwhile; yours started from {base}.',
    remedy: 'Take theirs, or put yours over it as a new revision.',
  },
  'changed-meanwhile': {
    what: 'This shot is at revision {current}; the request was for another one.',
    remedy: 'Read it again, and send the change with the ETag that comes with it.',
  },
  'key-used': {
    what: 'The Idempotency-Key {key} was used for another request.',
    remedy: 'Take a new key for each request.',
  },
  'key-in-work': {
    what: 'The request with the Idempotency-Key {key} is still being worked on.',
    remedy: 'Ask again in a moment.',
  },
  'job-running': {
    what: 'A {kind} job is already running on this shot.',
    remedy: 'Wait for it or stop it first.',
  },
  'job-ended': { what: 'This job has already ended.', remedy: 'Start a new one.' },
  'no-route': { what: 'There is nothing at {path}.', remedy: 'Check the address.' },
  'bad-request': { what: 'The request cannot be read: {why}.', remedy: 'Check its address and headers.' },
  internal: {
    what: 'Something went wrong inside Yarlop (request {id}).',
    remedy: 'Your work is saved. Try again, and report the request number if it happens again.',
  },
} as const satisfies Record<string, ProblemText>;
