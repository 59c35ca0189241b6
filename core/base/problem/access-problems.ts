import type { ProblemText } from './problem-text.ts';

/** Who may do what. */
export const ACCESS_PROBLEMS = {
  'unknown-host': {
    what: 'This machine is not known as {host}.',
    remedy: 'Use its address in figures, or add the name to YARLOP_NAMES and start again.',
  },
  'other-origin': {
    what: 'The request was sent by a page of {origin}, not of this service.',
    remedy: 'Open the page here, and do it there.',
  },
  'sign-in-needed': {
    what: 'This service asks who you are.',
    remedy: 'Sign in, or send a token (Authorization: Bearer …).',
  },
  'bad-token': {
    what: 'The token is not known, has run out or was withdrawn.',
    remedy: 'Ask an owner for a new one.',
  },
  'not-allowed': {
    what: 'You may not do this: it needs the right to {scope}.',
    remedy: 'Ask an owner for it.',
  },
  'bad-password': {
    what: 'Name and password do not belong together.',
    remedy: 'Try again; an owner can make a new account.',
  },
  'bad-set-up': {
    what: 'The code is not the one that was said at the start, or there is an owner already.',
    remedy: 'Take the code from where the service was started.',
  },
  'too-many-tries': { what: 'That was tried too often.', remedy: 'Try again in {minutes} minutes.' },
  'name-taken': { what: 'There is an account {name} already.', remedy: 'Choose another name.' },
  'last-owner': {
    what: 'This is the only owner; without one nobody could give rights any more.',
    remedy: 'Make another owner first.',
  },
  'link-gone': {
    what: 'This link leads nowhere: it was withdrawn, has run out, or is not complete.',
    remedy: 'Ask whoever sent it for a new one.',
  },
  'slot-full': {
    what: 'This link is good for {limit} {what}, and they are used up.',
    remedy: 'Ask whoever sent it for more.',
  },
  'slot-empty': { what: 'There is no content yet.', remedy: 'Choose a picture or film first.' },
  'variant-empty': {
    what: 'None of the chosen variants has content.',
    remedy: 'Give at least one a picture or film.',
  },
  'bad-table': {
    what: 'The table cannot be read: {why}.',
    remedy: 'Its first line names the columns: name, file and, where wanted, fit and start.',
  },
} as const satisfies Record<string, ProblemText>;
