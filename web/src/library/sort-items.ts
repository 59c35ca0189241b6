/** What a list of named things is searched and sorted by. */
export interface Listed {
  name: string;
  createdAt: string;
  changedAt?: string | undefined;
  archived: boolean;
}

export const SORTS = ['name', 'newest', 'changed'] as const;
export type Sort = (typeof SORTS)[number];

/** Those whose name holds all the words, archived ones only when they are asked for, in order. Numbers in names count as numbers. */
export function findItems<I extends Listed>(items: readonly I[], search: string, sort: Sort, archived: boolean): I[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = items.filter(
    (item) => item.archived === archived && words.every((word) => item.name.toLowerCase().includes(word)),
  );
  const byName = (a: I, b: I) => a.name.localeCompare(b.name, undefined, { numeric: true, sensitivity: 'base' });
  const time = (item: I) => (sort === 'changed' ? (item.changedAt ?? item.createdAt) : item.createdAt);
  return shown.sort((a, b) => (sort === 'name' ? byName(a, b) : time(b).localeCompare(time(a)) || byName(a, b)));
}
