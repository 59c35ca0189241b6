import { describe, expect, test } from 'vitest';
import { EditHistory } from './edit-history.ts';

describe('EditHistory', () => {
  test('undoes and redoes whole edits', () => {
    const history = new EditHistory(1);
    history.commit(2);
    history.commit(3);
    expect(history.undo() && history.present).toBe(2);
    expect(history.undo() && history.present).toBe(1);
    expect(history.undo()).toBe(false);
    expect(history.redo() && history.present).toBe(2);
    history.commit(9);
    expect(history.canRedo).toBe(false);
    expect(history.undo() && history.present).toBe(2);
  });
  test('a drag is one step, however many changes it had', () => {
    const history = new EditHistory(0);
    for (let i = 1; i <= 50; i++) history.change(i);
    expect(history.settle()).toBe(true);
    expect(history.present).toBe(50);
    history.undo();
    expect(history.present).toBe(0);
    expect(history.canUndo).toBe(false);
  });
  test('a drag that came back to where it began is none; undo in a drag ends it', () => {
    const start = { x: 1 };
    const history = new EditHistory(start);
    history.change({ x: 2 });
    history.change(start);
    expect(history.settle()).toBe(false);
    history.change({ x: 3 });
    history.undo();
    expect(history.present).toBe(start);
    expect(history.canRedo).toBe(true);
  });
  test('remembers as many steps as its limit', () => {
    const history = new EditHistory(0, 3);
    for (let i = 1; i <= 10; i++) history.commit(i);
    while (history.undo());
    expect(history.present).toBe(7);
  });
});
