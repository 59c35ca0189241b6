/** A tuple of as many values as the one that it is made from: four corners stay four, three coordinates three. */
export type MappedTuple<T extends readonly unknown[], U> = { -readonly [K in keyof T]: U };

/** What a function makes of each value of a tuple, typed as a tuple of the same length. */
export function mapTuple<const T extends readonly unknown[], const U>(
  tuple: T,
  make: (value: T[number], index: number) => U,
): MappedTuple<T, U> {
  return tuple.map((value, i) => make(value as T[number], i)) as MappedTuple<T, U>;
}

/** The tuple where none of its values is null or missing, else null. */
export function allThere<T extends readonly unknown[]>(tuple: T): { [K in keyof T]: NonNullable<T[K]> } | null {
  return tuple.every((value) => value !== null && value !== undefined)
    ? (tuple as { [K in keyof T]: NonNullable<T[K]> })
    : null;
}
