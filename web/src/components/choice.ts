/** A line of a list to choose from: what it stands for and what a person reads. */
export interface Choice<T> {
  value: T;
  text: string;
  disabled?: boolean;
}

/** The lines of a list whose names stand in a table. */
export const choicesOf = <T extends string>(names: Readonly<Partial<Record<T, string>>>): Choice<T>[] =>
  (Object.keys(names) as T[]).map((value) => ({ value, text: names[value]! }));

/** A list with one item more, or with one less where it is in it. */
export const toggled = <T>(list: readonly T[], item: T): T[] =>
  list.includes(item) ? list.filter((one) => one !== item) : [...list, item];

/** Sets or takes away a mark that is either true or absent, as documents have it. */
export function mark<K extends string>(target: { [key in K]?: boolean }, key: K, on: boolean): void {
  if (on) target[key] = true;
  else delete target[key];
}
