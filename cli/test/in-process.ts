import { join } from 'node:path';
import { vi } from 'vitest';

type Main = typeof import('../main.ts').main;
/** What scripts/build-programs.mjs offers; a script without types. */
interface BuiltPrograms {
  loadProgram(source: string): Promise<unknown>;
}
const PROGRAMS = '../../scripts/build-programs.mjs';

/** As it is built for bin/yarlop: hot loops take half the time of the sources as tests load them. For coverage the sources are what counts. */
async function built(): Promise<Main> {
  if (process.env.YARLOP_TEST_SOURCES === 'yes') return (await import('../main.ts')).main;
  const { loadProgram } = (await import(PROGRAMS)) as BuiltPrograms;
  return ((await loadProgram(join(import.meta.dirname, '../main.ts'))) as { main: Main }).main;
}

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
  const main = await built();
  process.chdir(folder);
  try {
    return { code: await main(args), ...said };
  } finally {
    process.chdir(here);
    for (const spy of spies) spy.mockRestore();
  }
}
