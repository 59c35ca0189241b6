import { unzipSync } from 'fflate';
import { runTool } from '../media/run-tool.ts';

export const zipped = ({ bytes }: { bytes: Buffer }) => unzipSync(new Uint8Array(bytes));
export const tool = async (name: 'ffprobe' | 'ffmpeg', args: string[]) => {
  const { stdout, stderr, exitCode } = await runTool(name, ['-v', 'error', ...args], 60_000);
  if (exitCode !== 0) throw new Error(stderr);
  return stdout;
};
export const meanOff = (a: Buffer, b: Buffer) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
