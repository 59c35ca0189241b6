import { Problem } from '../core/problem/problem.ts';
import { loadKernels } from '../server/kernels/load-kernels.ts';

const HELP = `yarlop: follow a screen in a plate, put content on it, hand on the data

  yarlop probe  --plate P [--check] --out FACTS.json
  yarlop track  --plate P --job JOB.json --out TRACK.json
  yarlop points --plate P --job POINTS.json --out TRACK.json
  yarlop splice --job SPLICE.json [--plate P] --out TRACK.json
  yarlop steady --plate P --track TRACK.json --out OUT [--remove position,rotation,scale,perspective] [--smooth frames] [--outside crop|fill|transparent] [--maps STEADY.json]
  yarlop steady --back STEADY.json --track ON-STEADIED.json --out TRACK.json
  yarlop seat   --plate P --track TRACK.json --out TRACK2.json [--snap inner|outer|off] [--lock] [--tolerance px] [--smooth 0…1] [--report R.json]
  yarlop look   --plate P --track TRACK.json [--content C] [--job JOB.json] --out LOOK.json
  yarlop render --plate P --track TRACK.json (--content C | --board BOARD.json) [--look LOOK.json] [--frames a-b] --out OUT [--matte OUT] [--insert OUT] [--difference OUT]
     OUT: a film, .mkv (without loss) .mp4 .mov .webm, or numbered pictures such as out.%04d.png, .tif (16 bit), .exr (half float, linear light)
     how: [--codec h264|hevc|vp9|av1|ffv1] [--quality small|good|best] [--crf n] [--bits 8|16]
  yarlop export --track TRACK.json --format FORMAT --out F
     FORMAT: corners-csv corners-json corners-text homography-csv homography-json transform-csv transform-json css-html otio gltf,
             shapes-json (with --look LOOK.json), and a file a frame: st-map (--out st.%04d.exr), shapes-svg (--look, --out s.%04d.svg)
     how:    [--frame-base 0|1|plate] [--y down|up] [--pixel-centre half|integer] [--units pixels|normalised] [--decimals n] [--corrections with|without]
             [--order clockwise|counter-clockwise|rows|rows-from-below|clockwise-from-below] [--from reference|surface] [--shutter degrees[,phase]]
             [--plate-name P] [--content-name C] [--content-size WxH] [--focal px] [--ratio r] [--frames a-b] [--overscan px] [--bits 32|16] [--inverse]
  yarlop import --in F (--plate P | --track TRACK.json | --size WxH --rate n/d) [--reference frame] --out TRACK.json
     a table is understood by its column names, or: [--columns frame,x,y,x,y,x,y,x,y] [--frame-base n] [--y down|up] [--pixel-centre half|integer] [--units pixels|normalised]

  yarlop batch  FILE.json      many shots, each with its commands in order; run again, it goes on where it was

P and C are a clip, a still, a folder or zip of numbered pictures, or a pattern such as shot.%04d.png.
Where a plate is wrong or silent: --rate n/d, --gaps hold|stop, --deinterlace yes, --transfer NAME, --primaries NAME, --matrix bt709|bt601|bt2020, --range limited|full.
The files are described in docs/formats.md.
`;

/** Each command is loaded when it is asked for: what the others need takes longer to load than many a job to do. */
const COMMANDS: Readonly<Record<string, () => Promise<(args: string[]) => Promise<void>>>> = {
  probe: async () => (await import('./probe-command.ts')).probeCommand,
  track: async () => (await import('./track-command.ts')).trackCommand,
  points: async () => (await import('./points-command.ts')).pointsCommand,
  splice: async () => (await import('./splice-command.ts')).spliceCommand,
  steady: async () => (await import('./steady-command.ts')).steadyCommand,
  seat: async () => (await import('./seat-command.ts')).seatCommand,
  look: async () => (await import('./look-command.ts')).lookCommand,
  render: async () => (await import('./render-command.ts')).renderCommand,
  batch: async () => {
    const { batchCommand } = await import('./batch-command.ts');
    return (args) => batchCommand(args, runCommand);
  },
  import: async () => (await import('./import-command.ts')).importCommand,
  export: async () => (await import('./export-command.ts')).exportCommand,
};

/** Runs one command of those above. @throws Problem unknown-option */
async function runCommand(name: string, args: string[]): Promise<void> {
  const command = COMMANDS[name];
  if (!command) throw new Problem('unknown-option', { why: `There is no command "${name}"` });
  await (await command())(args);
}

/** Runs one command; returns the exit code. What went wrong is one sentence on stderr. */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (name === undefined || name === '--help' || name === 'help' || rest.includes('--help')) {
    (name === undefined ? process.stderr : process.stdout).write(HELP);
    return name === undefined ? 1 : 0;
  }
  try {
    loadKernels();
    await runCommand(name, rest);
    return 0;
  } catch (error) {
    if (process.stderr.isTTY) process.stderr.write('\r\x1b[K');
    process.stderr.write(`yarlop: ${error instanceof Problem ? error.sentence : `something went wrong inside: ${(error as Error).message}`}\n`);
    if (!(error instanceof Problem) && process.env.YARLOP_DEBUG) process.stderr.write(`${(error as Error).stack}\n`);
    return 1;
  }
}
