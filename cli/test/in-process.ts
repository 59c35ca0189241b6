import { vi } from 'vitest';
import { main } from '../main.ts';

/** What a command said and how it ended. */
export interface Said {
  code: number;
  stdout: string;
  stderr: string;
}

/** Runs a command as bin/yarlop does, in a folder, without a process of its own: starting one takes longer than most of what is tested. */
export async function inProcess(folder: string, args: string[]): Promise<Said> {
  const said = { stdout: '', stderr: '' };
  const here = process.cwd();
  const spies = (['stdout', 'stderr'] as const).map((stream) =>
    vi.spyOn(process[stream], 'write').mockImplementation((text) => {
      said[stream] += String(text);
      return true;
    }),
  );
  process.chdir(folder);
  try {
    return { code: await main(args), ...said };
  } finally {
    process.chdir(here);
    for (const spy of spies) spy.mockRestore();
  }
}
