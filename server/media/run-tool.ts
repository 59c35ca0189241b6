import { execa, ExecaError, type Options } from 'execa';
import { Problem } from '../../core/problem/problem.ts';

/** Files and pipes only: nothing that a media file mentions is ever fetched. */
export const PROTOCOLS = ['-protocol_whitelist', 'file,pipe'] as const;

const PACKAGES: Record<string, string> = { ffmpeg: 'ffmpeg', ffprobe: 'ffmpeg' };

/** Options every media child process runs with. */
export const TOOL_LIMITS = { reject: false, stripFinalNewline: true, maxBuffer: 1 << 26, cleanup: true } as const satisfies Options;

/** Runs a tool to its end with an argument list; returns what it printed. */
export async function runTool(tool: 'ffmpeg' | 'ffprobe', args: readonly string[], timeoutMs: number): Promise<{ exitCode: number; stdout: string; stderr: string }> {
  const result = await execa(tool, [...args], { ...TOOL_LIMITS, timeout: timeoutMs, stdin: 'ignore' });
  if (isMissing(result)) throw new Problem('tool-missing', { tool, package: PACKAGES[tool]! });
  if (result.timedOut) throw new Problem('tool-failed', { tool, why: `it took more than ${timeoutMs / 1000} s` });
  return { exitCode: result.exitCode ?? -1, stdout: result.stdout, stderr: result.stderr };
}

export function isMissing(result: unknown): boolean {
  return result instanceof ExecaError && result.code === 'ENOENT';
}

/** The last line that a tool said, for a person: without addresses of its own inner parts. */
export function lastWords(stderr: string): string {
  const lines = stderr.split('\n').map((l) => l.replace(/^\[[^\]]*\] ?/, '').replace(/(\/[^\s:]*)+/g, '').trim()).filter(Boolean);
  return (lines.at(-1) ?? 'it gave no reason').slice(0, 200);
}
