// @vitest-environment happy-dom
import { afterEach, expect, test, vi } from 'vitest';
import { sendFile } from './upload.ts';

afterEach(() => vi.restoreAllMocks());

test('an upload that was cancelled before it began sends nothing', async () => {
  const opened = vi.spyOn(XMLHttpRequest.prototype, 'open');
  const given = new AbortController();
  given.abort();
  const task = {
    projectId: 1,
    name: 'clip.mov',
    file: new Blob(['abc']),
    url: null,
    onStarted: () => {},
    onProgress: () => {},
    signal: given.signal,
  };
  await expect(sendFile(task)).rejects.toMatchObject({ name: 'AbortError' });
  expect(opened).not.toHaveBeenCalled();
});
