/** A line of the table: what, for each seed, the worst, and what is asked. */
export interface FigureRow {
  readonly title: string;
  readonly unit: string;
  readonly digits: number;
  readonly seeds: readonly number[];
  readonly asked: number | null;
  /** Whether smaller is better. */
  readonly below: boolean;
}
