import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { Problem } from '../core/base/problem/problem.ts';
import { isGuarded, makeFolders, readConfig } from './config.ts';
import { temporaryFolder } from './test/folders.ts';

const failure = (env: Record<string, string>): string => {
  try {
    readConfig(env, '/data');
  } catch (error) {
    return (error as Problem).sentence;
  }
  return '';
};

describe('readConfig', () => {
  test('has working defaults', () => {
    expect(readConfig({}, '/data')).toEqual({
      port: 8460,
      host: '127.0.0.1',
      dataFolder: '/data',
      database: null,
      workers: 2,
      uploadLimitBytes: 20e9,
      platesFolder: null,
      logLevel: 'warn',
      names: [],
      signIn: false,
      proxy: false,
      media: null,
    });
    expect(readConfig({ YARLOP_PORT: '', YARLOP_LOG: '' }, '/data').port).toBe(8460);
  });
  test.each([
    ['YARLOP_PORT', 'eighty'],
    ['YARLOP_PORT', '70000'],
    ['YARLOP_WORKERS', '-1'],
    ['YARLOP_DATABASE', 'http://elsewhere'],
    ['YARLOP_WORKERS', '1.5'],
    ['YARLOP_UPLOAD_LIMIT_GB', '-3'],
    ['YARLOP_LOG', 'loud'],
    ['YARLOP_DEAD_AFTER', '1'],
    ['YARLOP_DEMO_FOLDER', '/nowhere/at/all'],
    ['YARLOP_PLATES', 'no-such-folder'],
    ['YARLOP_SIGN_IN', 'perhaps'],
    ['YARLOP_PROXY', '1'],
    ['YARLOP_MEDIA', 'bench.house'],
  ])('%s=%s is refused with its name and what it may be', (name, value) => {
    expect(failure({ [name]: value })).toMatch(
      new RegExp(`^The setting ${name} is "${value}": it must be .*Correct it`),
    );
  });
});

test('a data folder that cannot be made is a sentence', () => {
  const folder = temporaryFolder();
  mkdirSync(folder.path, { recursive: true });
  writeFileSync(join(folder.path, 'file'), '');
  expect(() => makeFolders(join(folder.path, 'file/data'))).toThrow(/YARLOP_DATA/);
  folder.remove();
});

test('whoever comes from elsewhere is asked who they are; on this machine alone only where that is wanted', () => {
  const asked = (env: Record<string, string>) => isGuarded(readConfig(env, '/data'));
  expect(['127.0.0.1', 'localhost', '::1', '127.8.9.10'].map((host) => asked({ YARLOP_HOST: host }))).toEqual([
    false,
    false,
    false,
    false,
  ]);
  expect(
    ['0.0.0.0', '::', '192.168.1.4', 'bench.house', '127.0.0.1.evil.example'].map((host) =>
      asked({ YARLOP_HOST: host }),
    ),
  ).toEqual([true, true, true, true, true]);
  expect(asked({ YARLOP_SIGN_IN: 'yes' })).toBe(true);
});
