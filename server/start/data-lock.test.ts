import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { temporaryFolder } from '../test/folders.ts';
import { lockData } from './data-lock.ts';

test('a folder is held once; a lock of a process that is gone does not count', () => {
  const folder = temporaryFolder();
  const file = join(folder.path, 'yarlop.lock');
  const unlock = lockData(folder.path);
  expect(readFileSync(file, 'utf8')).toMatch(new RegExp(`^${process.pid} \\d+`));
  unlock();
  expect(existsSync(file)).toBe(false);
  // Process 1 is alive: with its own start time the lock holds, with another it is left over from a restart.
  const started = readFileSync('/proc/1/stat', 'utf8').split(') ')[1]!.split(' ')[19]!;
  writeFileSync(file, `1 ${started}\n`);
  expect(() => lockData(folder.path)).toThrow(/in use by another Yarlop \(process 1\)/);
  writeFileSync(file, '1 12345678901\n');
  lockData(folder.path)();
  folder.remove();
});
