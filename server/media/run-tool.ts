import { execa, ExecaError, type Options } from 'execa';
import { Problem } from '../../core/base/problem/problem.ts';

/** Containers of films that are taken. Whatever else ffmpeg knows (playlists, scripts, devices, the net) is not asked. */
const FILM_CONTAINERS = ['mov', 'matroska', 'mxf', 'avi', 'mpegts', 'mpeg', 'ivf', 'yuv4mpegpipe', 'flv', 'gif'];
const PICTURE_CONTAINERS = ['png_pipe', 'jpeg_pipe', 'tiff_pipe', 'exr_pipe', 'webp_pipe', 'bmp_pipe', 'image2'];

/**
 * What every input of ffmpeg is read under: local files and pipes only, known containers only, no files
 * that a film refers to, and no picture larger than a plate may be.
 */
export const INPUT_GUARDS = [
  '-protocol_whitelist',
  'file,pipe',
  '-format_whitelist',
  [...FILM_CONTAINERS, ...PICTURE_CONTAINERS].join(','),
  '-max_pixels',
  String(16384 * 16384),
] as const;

/** Limits of a media child process, kept by the kernel: prlimit(1). */
const MEMORY_BYTES = 8 * 2 ** 30;
const OPEN_FILES = 256;

const PACKAGES: Record<string, string> = { ffmpeg: 'ffmpeg', ffprobe: 'ffmpeg' };

export type MediaTool = 'ffmpeg' | 'ffprobe';

/** The command line that runs a tool under its limits; `cpuSeconds` bounds what it may work in all. */
export function limited(tool: MediaTool, args: readonly string[], cpuSeconds: number): [string, string[]] {
  return [
    'prlimit',
    [`--as=${MEMORY_BYTES}`, `--nofile=${OPEN_FILES}`, '--core=0', `--cpu=${Math.ceil(cpuSeconds)}`, tool, ...args],
  ];
}

/** Options every media child process runs with. */
export const TOOL_LIMITS = {
  reject: false,
  stripFinalNewline: true,
  maxBuffer: 1 << 26,
  cleanup: true,
} as const satisfies Options;

/** Runs a tool to its end with an argument list; returns what it printed. `cutOff`: it was ended, since it printed more than is read. */
export async function runTool(
  tool: MediaTool,
  args: readonly string[],
  timeoutMs: number,
): Promise<{ exitCode: number; stdout: string; stderr: string; cutOff: boolean }> {
  const [command, line] = limited(tool, args, (2 * timeoutMs) / 1000);
  const result = await execa(command, line, {
    ...TOOL_LIMITS,
    timeout: timeoutMs,
    killSignal: 'SIGKILL',
    stdin: 'ignore',
  });
  if (isMissing(result)) throw new Problem('tool-missing', { tool, package: PACKAGES[tool]! });
  if (result.timedOut) throw new Problem('tool-failed', { tool, why: `it took more than ${timeoutMs / 1000} s` });
  return {
    exitCode: result.exitCode ?? -1,
    stdout: result.stdout,
    stderr: result.stderr,
    cutOff: result.isMaxBuffer,
  };
}

/** True when the tool could not be started because it is not there: prlimit says so with 127. */
export function isMissing(result: unknown): boolean {
  if (result instanceof ExecaError && result.code === 'ENOENT') return true;
  const { exitCode, stderr } = result as { exitCode?: number; stderr?: unknown };
  return exitCode === 127 && /No such file|not found/i.test(asText(stderr));
}

export function asText(value: unknown): string {
  return value instanceof Uint8Array ? Buffer.from(value).toString('utf8') : typeof value === 'string' ? value : '';
}

/** What a tool says, and what that means to a person. */
const MEANINGS: readonly [RegExp, string][] = [
  [
    /Error marking filters|Error while decoding|Error submitting|Conversion failed|Nothing was written/i,
    'its pictures cannot be decoded',
  ],
  [/Invalid data found/i, 'what is in it makes no sense as a film or picture'],
  [/Cannot allocate memory|Killed/i, 'it asks for more memory than it may have'],
];

/** The last line that a tool said, for a person: without addresses of its own inner parts. */
export function lastWords(stderr: string): string {
  const meaning = MEANINGS.find(([says]) => says.test(stderr.trim().split('\n').at(-1) ?? ''));
  if (meaning) return meaning[1];
  const lines = stderr
    .split('\n')
    .map((l) =>
      l
        .replace(/^\[[^\]]*\] ?/, '')
        .replace(/(\/[^\s:]*)+/g, '')
        .trim(),
    )
    .filter(Boolean);
  return (lines.at(-1) ?? 'it gave no reason').slice(0, 200);
}
