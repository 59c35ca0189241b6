// @vitest-environment happy-dom
import { expect, test, vi } from 'vitest';
import { rowKey } from './row-key.ts';

const press = (key: string) => {
  const does = { go: vi.fn(), remove: vi.fn(), move: vi.fn() };
  const event = new KeyboardEvent('keydown', { key, cancelable: true });
  rowKey(event, does);
  return { ...does, taken: event.defaultPrevented };
};

test('a ledger key goes, is removed and is moved by keyboard; other keys go on', () => {
  expect(press('Enter').go).toHaveBeenCalledOnce();
  expect(press('Delete').remove).toHaveBeenCalledOnce();
  expect(press('ArrowLeft').move).toHaveBeenCalledWith(-1);
  expect(press('ArrowRight')).toMatchObject({ taken: true });
  const { go, remove, move, taken } = press('z');
  expect([go, remove, move].flatMap((f) => f.mock.calls)).toEqual([]);
  expect(taken).toBe(false);
});
