import { INPUT_PROBLEMS } from './input-problems.ts';
import { MEDIA_PROBLEMS } from './media-problems.ts';
import { WORK_PROBLEMS } from './work-problems.ts';
import { ACCESS_PROBLEMS } from './access-problems.ts';
import { SERVICE_PROBLEMS } from './service-problems.ts';
import { START_PROBLEMS } from './start-problems.ts';

/** Everything that can go wrong through a person's or the outside's doing. A test pins the codes. */
export const PROBLEMS = {
  ...INPUT_PROBLEMS,
  ...MEDIA_PROBLEMS,
  ...WORK_PROBLEMS,
  ...ACCESS_PROBLEMS,
  ...SERVICE_PROBLEMS,
  ...START_PROBLEMS,
} as const;

export type ProblemCode = keyof typeof PROBLEMS;
