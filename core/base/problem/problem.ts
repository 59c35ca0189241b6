import { PROBLEMS, type ProblemCode } from './catalogue.ts';

/** An error that a person can do something about. `message` says what is wrong, `remedy` what to do. */
export class Problem extends Error {
  override readonly name = 'Problem';
  readonly remedy: string;

  constructor(
    readonly code: ProblemCode,
    readonly values: Readonly<Record<string, string | number>> = {},
    options?: ErrorOptions,
  ) {
    super(fill(PROBLEMS[code].what, values), options);
    this.remedy = fill(PROBLEMS[code].remedy, values);
  }

  /** What is wrong and what to do, in one line. */
  get sentence(): string {
    return `${this.message} ${this.remedy}`;
  }
}

function fill(template: string, values: Readonly<Record<string, string | number>>): string {
  return template.replace(/\{(\w+)\}/g, (_, name: string) => String(values[name] ?? `{${name}}`));
}
