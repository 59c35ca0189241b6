import { Problem } from '../core/base/problem/problem.ts';
import { HELP, helpOf } from './help.ts';
import { loadKernels } from '../server/kernels/load-kernels.ts';

/** Each command is loaded when it is asked for: what the others need takes longer to load than many a job to do. */
const COMMANDS: Readonly<Record<string, () => Promise<(args: string[]) => Promise<void>>>> = {
  probe: async () => (await import('./probe-command.ts')).probeCommand,
  track: async () => (await import('./track-command.ts')).trackCommand,
  points: async () => (await import('./points-command.ts')).pointsCommand,
  splice: async () => (await import('./splice-command.ts')).spliceCommand,
  steady: async () => (await import('./steady-command.ts')).steadyCommand,
  scene: async () => (await import('./scene-command.ts')).sceneCommand,
  lens: async () => (await import('./lens-command.ts')).lensCommand,
  loop: async () => (await import('./loop-command.ts')).loopCommand,
  seat: async () => (await import('./seat-command.ts')).seatCommand,
  look: async () => (await import('./look-command.ts')).lookCommand,
  render: async () => (await import('./render-command.ts')).renderCommand,
  batch: async () => {
    const { batchCommand } = await import('./batch-command.ts');
    return (args) => batchCommand(args, async (step, given) => void (await runCommand(step, given)));
  },
  import: async () => (await import('./import-command.ts')).importCommand,
  export: async () => (await import('./export-command.ts')).exportCommand,
};

/** What is written by a command, by the names of its options. */
const WRITTEN = ['--out', '--matte', '--insert', '--difference', '--maps', '--report'];

/** Runs one command, on files or by a server. Returns what came of it. @throws Problem unknown-option */
async function runCommand(name: string, args: string[]): Promise<object> {
  const byServer = args.includes('--server') || args.some((arg) => arg.startsWith('--server='));
  if (byServer || !COMMANDS[name]) {
    const { SERVER_COMMANDS } = await import('./at-server/server-commands.ts');
    const command = SERVER_COMMANDS[name];
    if (command) return command(args);
    throw new Problem('unknown-option', {
      why: COMMANDS[name] ? `"${name}" works on files, not by a server` : `There is no command "${name}"`,
    });
  }
  loadKernels();
  await (
    await COMMANDS[name]()
  )(args);
  return { wrote: args.flatMap((arg, i) => (WRITTEN.includes(arg) && args[i + 1] !== undefined ? [args[i + 1]] : [])) };
}

/** Runs one command; returns the exit code: 0 done, 1 not done, 2 a fault of ours. What went wrong is one sentence on stderr; with `--json` what came of it stands on stdout. */
export async function main(args: string[]): Promise<number> {
  const [name, ...given] = args;
  const json = given.includes('--json');
  const rest = given.filter((arg) => arg !== '--json');
  const tell = (what: object) => json && process.stdout.write(`${JSON.stringify(what)}\n`);
  if (name === undefined || name === '--help' || name === 'help' || rest.includes('--help')) {
    const asked = name === 'help' ? rest[0] : name;
    (name === undefined ? process.stderr : process.stdout).write((asked === undefined ? null : helpOf(asked)) ?? HELP);
    return name === undefined ? 1 : 0;
  }
  try {
    const result = await runCommand(name, rest);
    if (json) tell({ ok: true, command: name, ...result });
    else if (!('wrote' in result)) process.stdout.write(`${JSON.stringify(result, null, 1)}\n`);
    return 0;
  } catch (error) {
    if (process.stderr.isTTY) process.stderr.write('\r\x1b[K');
    const known = error instanceof Problem;
    tell({
      ok: false,
      command: name,
      code: known ? error.code : 'internal',
      message: (error as Error).message,
      remedy: known ? error.remedy : '',
    });
    process.stderr.write(
      `yarlop: ${known ? error.sentence : `something went wrong inside: ${(error as Error).message}`}\n`,
    );
    if (!known && process.env.YARLOP_DEBUG) process.stderr.write(`${(error as Error).stack}\n`);
    return known ? 1 : 2;
  }
}
