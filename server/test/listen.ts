import { expect } from 'vitest';
import type { Job } from '../../core/base/schemas/types.ts';

/** Listens to the job events of the service. */
export async function listen(url: string) {
  const stop = new AbortController();
  const response = await fetch(url, { signal: stop.signal });
  const heard: Job[] = [];
  const reading = (async () => {
    let text = '';
    for await (const chunk of response.body!) {
      text += Buffer.from(chunk).toString();
      const parts = text.split('\n\n');
      text = parts.pop()!;
      for (const part of parts)
        if (/^event: ?job$/m.test(part)) heard.push(JSON.parse(/^data: ?(.*)$/m.exec(part)![1]!) as Job);
    }
  })().catch(() => {});
  return {
    heard,
    close: () => {
      stop.abort();
      void reading;
    },
    until: async (reached: (job: Job) => boolean) => {
      for (let i = 0; i < 100 && !heard.some(reached); i++) await new Promise((resolve) => setTimeout(resolve, 50));
      expect(heard.some(reached)).toBe(true);
    },
  };
}
