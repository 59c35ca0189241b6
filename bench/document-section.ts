import { existsSync, readFileSync, writeFileSync } from 'node:fs';

/** Puts a measured part into a document, in place of what stood between its two marks, or at the end. */
export function writeSection(file: string, name: string, text: string): void {
  const begin = `<!-- ${name} -->`;
  const end = `<!-- end of ${name} -->`;
  const part = `${begin}\n${text.trim()}\n${end}`;
  const whole = existsSync(file) ? readFileSync(file, 'utf8') : '';
  const from = whole.indexOf(begin);
  const to = whole.indexOf(end);
  writeFileSync(
    file,
    from >= 0 && to > from
      ? whole.slice(0, from) + part + whole.slice(to + end.length)
      : `${whole.trimEnd()}\n\n${part}\n`,
  );
}
