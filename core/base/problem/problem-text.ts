/** What is wrong, and what to do; `{name}` is filled in. */
export interface ProblemText {
  readonly what: string;
  readonly remedy: string;
}
