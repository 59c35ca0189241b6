/** What one command does, how it is written, and examples of its use. */
interface CommandHelp {
  readonly says: string;
  readonly usage: readonly string[];
  readonly examples: readonly (readonly [string, string])[];
}

const AT_SERVER = '--server URL [--token T]';

/** Commands that work alone, on files. */
const ALONE: Readonly<Record<string, CommandHelp>> = {
  probe: {
    says: 'tells what a plate is: size, rate, colour, timing; with --check what may go wrong with it',
    usage: ['yarlop probe --plate P [--check] --out FACTS.json'],
    examples: [
      [
        'yarlop probe --plate plate.mp4 --check --out facts.json',
        'also looks for repeated frames, brightness jumps and shake',
      ],
      [
        'yarlop probe --plate shot.%04d.exr --rate 24000/1001 --out facts.json',
        'numbered pictures do not say their rate',
      ],
    ],
  },
  track: {
    says: 'follows a region of a plate; the homography and corners of every frame come out',
    usage: ['yarlop track --plate P --job JOB.json --out TRACK.json'],
    examples: [
      [
        'yarlop track --plate plate.mp4 --job job.json --out track.json',
        'job.json: {"pixelCentre":"half","referenceFrame":40,"motion":"homography","regions":[…],"corners":[…]}',
      ],
      [
        'YARLOP_TOKEN=… yarlop track --server http://farm:8460 --shot 7',
        'the same by a server, with what is drawn in its shot 7',
      ],
    ],
  },
  points: {
    says: 'follows single points',
    usage: ['yarlop points --plate P --job POINTS.json --out TRACK.json'],
    examples: [
      [
        'yarlop points --plate plate.mp4 --job points.json --out track.json',
        'four corner points, each with its own box',
      ],
    ],
  },
  splice: {
    says: 'joins spans of different tracks to one',
    usage: ['yarlop splice --job SPLICE.json [--plate P] --out TRACK.json'],
    examples: [
      [
        'yarlop splice --job splice.json --out track.json',
        'splice.json names for each span the track that it is taken from',
      ],
    ],
  },
  steady: {
    says: 'takes the motion of a track out of a plate, or puts what was followed on it back',
    usage: [
      'yarlop steady --plate P --track TRACK.json --out OUT [--remove position,rotation,scale,perspective] [--smooth frames] [--outside crop|fill|transparent] [--maps STEADY.json]',
      'yarlop steady --back STEADY.json --track ON-STEADIED.json --out TRACK.json',
    ],
    examples: [
      [
        'yarlop steady --plate plate.mp4 --track rough.json --out still.mkv --maps steady.json',
        'then follow still.mkv',
      ],
      ['yarlop steady --back steady.json --track fine.json --out track.json', 'and carry what came of it back'],
    ],
  },
  scene: {
    says: 'solves the camera from the room, and carries a plane that has nothing of its own to follow',
    usage: ['yarlop scene --plate P [--job SCENEJOB.json] --out SCENE.json [--track TRACK.json]'],
    examples: [
      [
        'yarlop scene --plate plate.mp4 --job wall.json --out scene.json --track track.json',
        'wall.json: {"pixelCentre":"half","frame":36,"corners":[[410,180],…],"proportions":1.78}',
      ],
      ['yarlop scene --plate plate.mp4 --out scene.json', 'camera and still points alone'],
    ],
  },
  lens: {
    says: 'tells a lens, for JOB.json and LOOK.json, by chessboards, by an ST map or by the room; and writes its ST maps',
    usage: [
      'yarlop lens (--boards P[,P…] | --map MAP.exr [--takes out|in] | --plate P | --lens LENS.json) [--size WxH] --out LENS.json [--maps lens-%s.exr]',
    ],
    examples: [
      [
        'yarlop lens --boards boards.mp4 --size 1920x1080 --out lens.json',
        'the board turned and moved towards all corners; any number of squares',
      ],
      [
        'yarlop lens --map undistort.exr --takes out --out lens.json',
        'for each pixel without the lens its place in the plate; in: the other way round',
      ],
      [
        'yarlop lens --lens lens.json --out same.json --maps lens-%s.exr',
        'lens-out.exr and lens-in.exr for other programs',
      ],
    ],
  },
  loop: {
    says: 'lets the end of a plate go over into its beginning, or one take into another along a split',
    usage: ['yarlop loop --plate P --job LOOP.json --out OUT [--report R.json]', 'OUT: as for render'],
    examples: [
      [
        'yarlop loop --plate plate.mp4 --job loop.json --out loop.mp4',
        'loop.json: {"pixelCentre":"half","fade":16}; the loop is 16 frames shorter than the plate',
      ],
      [
        'yarlop loop --plate take1.mp4 --job split.json --out both.mp4',
        'split.json: {"pixelCentre":"half","second":{"plate":"take2.mp4","offset":-4},"split":{"line":{"points":[[640,0],[640,720]]},"soft":60}}',
      ],
    ],
  },
  seat: {
    says: 'puts corners onto the screen’s edges and holds them there',
    usage: [
      'yarlop seat --plate P --track TRACK.json --out TRACK2.json [--snap inner|outer|off] [--lock] [--tolerance px] [--smooth 0…1] [--report R.json]',
    ],
    examples: [
      [
        'yarlop seat --plate plate.mp4 --track track.json --snap inner --lock --out seated.json',
        'snapped on the reference frame, locked on all others',
      ],
    ],
  },
  look: {
    says: 'proposes levels, softness, blur, grain and cast, measured on the plate',
    usage: ['yarlop look --plate P --track TRACK.json [--content C] [--job JOB.json] --out LOOK.json'],
    examples: [
      [
        'yarlop look --plate plate.mp4 --track seated.json --content orders.png --out look.json',
        'then change what you want in look.json',
      ],
    ],
  },
  render: {
    says: 'puts content on the plate',
    usage: [
      'yarlop render --plate P --track TRACK.json (--content C | --board BOARD.json) [--look LOOK.json] [--frames a-b] --out OUT [--matte OUT] [--insert OUT] [--difference OUT] [--codec h264|hevc|vp9|av1|ffv1] [--quality small|good|best] [--crf n] [--bits 8|16]',
      'OUT: a film, .mkv (without loss) .mp4 .mov .webm, or numbered pictures such as out.%04d.png, .tif (16 bit), .exr (half float, linear light)',
    ],
    examples: [
      [
        'yarlop render --plate plate.mp4 --track seated.json --content orders.png --look look.json --out result.mp4 --matte matte.%04d.png',
        'film and mattes in one go',
      ],
      [
        'yarlop render … --frames 24-47 --out part.%04d.exr',
        'a part, as on a farm (docs/farm.md): done twice it gives the same bytes',
      ],
      [
        'yarlop render --server http://farm:8460 --shot 7 --format png16 --layers full,matte --out from-farm',
        'by a server; what comes of it is fetched into the folder from-farm',
      ],
    ],
  },
  export: {
    says: 'writes a track for other people’s programs',
    usage: [
      'yarlop export --track TRACK.json --format FORMAT --out F',
      'FORMAT: corners-csv corners-json corners-text homography-csv homography-json transform-csv transform-json css-html otio gltf, shapes-json (with --look LOOK.json); a file a frame: st-map (--out st.%04d.exr), shapes-svg (--look, --out s.%04d.svg)',
      '[--frame-base 0|1|plate] [--y down|up] [--pixel-centre half|integer] [--units pixels|normalised] [--decimals n] [--corrections with|without] [--order clockwise|counter-clockwise|rows|rows-from-below|clockwise-from-below] [--from reference|surface] [--shutter degrees[,phase]] [--picture plate|straight] [--steadied STEADY.json] [--plate-name P] [--content-name C] [--content-size WxH] [--focal px] [--ratio r] [--scene SCENE.json] [--frames a-b] [--overscan px] [--bits 32|16] [--inverse]',
    ],
    examples: [
      [
        'yarlop export --track seated.json --format corners-csv --y up --frame-base 1 --out corners.csv',
        'y grows upwards, the first frame is 1',
      ],
      [
        'yarlop export --track seated.json --format st-map --out st.%04d.exr',
        'where each pixel takes its content from',
      ],
      ['yarlop export --server http://farm:8460 --shot 7 --format gltf --out camera.gltf', 'from a shot of a server'],
    ],
  },
  import: {
    says: 'takes corners or homographies that somebody else has made',
    usage: [
      'yarlop import --in F (--plate P | --track TRACK.json | --size WxH --rate n/d) [--reference frame] --out TRACK.json',
      'a table is understood by its column names, or: [--columns frame,x,y,x,y,x,y,x,y] [--frame-base n] [--y down|up] [--pixel-centre half|integer] [--units pixels|normalised]',
    ],
    examples: [
      [
        'yarlop import --in theirs.csv --plate plate.mp4 --columns 0,1,2,3,4,5,6,7,8 --y up --out track.json',
        'a table without column names',
      ],
    ],
  },
  batch: {
    says: 'runs the commands of many shots; run again, it goes on where it was',
    usage: ['yarlop batch FILE.json'],
    examples: [
      [
        'yarlop batch shots.json',
        'shots.json: {"format":"yarlop-batch/1","shots":[{"name":"s1","folder":"s1","steps":[{"run":"track","with":{"plate":"plate.mp4","job":"job.json","out":"track.json"}}]}]}',
      ],
    ],
  },
};

/** Commands of a server only. */
const BY_SERVER: Readonly<Record<string, CommandHelp>> = {
  projects: {
    says: 'lists projects and shots',
    usage: [`yarlop projects ${AT_SERVER}`],
    examples: [['yarlop projects --server http://127.0.0.1:8460 --json', 'as JSON, with their numbers']],
  },
  'bring-in': {
    says: 'brings files into a project and makes a shot of the plate',
    usage: [`yarlop bring-in ${AT_SERVER} --project NAME [--plate F] [--content F] [--shot NAME]`],
    examples: [
      [
        'yarlop bring-in --server http://127.0.0.1:8460 --project "House 4" --plate plate.mp4 --content orders.png --json',
        'the shot’s number comes back',
      ],
    ],
  },
  document: {
    says: 'reads a shot’s document, or saves one',
    usage: [`yarlop document ${AT_SERVER} --shot N (--out F | --in F)`],
    examples: [
      [
        'yarlop document --server $S --shot 7 --out shot.json && edit shot.json && yarlop document --server $S --shot 7 --in shot.json',
        'regions, corners, look, everything',
      ],
    ],
  },
  pull: {
    says: 'pulls frames between hand keys onto the picture',
    usage: [`yarlop pull ${AT_SERVER} --shot N`],
    examples: [],
  },
  variants: {
    says: 'shows a shot’s table of contents, or fills it from CSV',
    usage: [`yarlop variants ${AT_SERVER} --shot N [--table T.csv]`],
    examples: [
      [
        'yarlop variants --server $S --shot 7 --table languages.csv && yarlop render --server $S --shot 7 --variants --out all',
        'columns name and file; then all rows are rendered',
      ],
    ],
  },
  archive: {
    says: 'saves a whole project as one file, or brings one in',
    usage: [`yarlop archive ${AT_SERVER} (--project N --out F [--without-plates] [--with-renders] | --in F)`],
    examples: [
      ['yarlop archive --server $S --project 3 --out house4.yarlop.zip', ''],
      ['yarlop archive --server $OTHER --in house4.yarlop.zip', 'into another house'],
    ],
  },
  call: {
    says: 'calls any route of docs/api.md',
    usage: [`yarlop call ${AT_SERVER} --path /shots/7/ledger [--method POST] [--body F.json]`],
    examples: [['yarlop call --server $S --path /jobs/12/pause --method POST', 'holds a render']],
  },
};

const LINE = (name: string, { says }: CommandHelp) => `  yarlop ${name.padEnd(9)} ${says}`;

/** What all commands do, in short. */
export const HELP = `yarlop: follow a screen in a plate, put content on it, hand on the data

On files, alone:
${Object.entries(ALONE)
  .map(([name, help]) => LINE(name, help))
  .join('\n')}

By a server (${AT_SERVER}; the token may stand in YARLOP_TOKEN):
${Object.entries(BY_SERVER)
  .map(([name, help]) => LINE(name, help))
  .join('\n')}
  and with --shot N in place of files: track, points, seat, look, render, export, import

"yarlop COMMAND --help" shows how a command is written, with examples: try "yarlop track --help".
--json says on stdout, as JSON, what came of a command, and what was wrong. Exit codes: 0 done, 1 not done (one sentence says why), 2 something went wrong inside.

P and C are a clip, a still, a folder or zip of numbered pictures, or a pattern such as shot.%04d.png.
Where a plate is wrong or silent: --rate n/d, --gaps hold|stop, --deinterlace yes, --transfer NAME, --primaries NAME, --matrix bt709|bt601|bt2020, --range limited|full.
The files are described in docs/formats.md.
`;

/** How one command is written; null where there is none of that name. */
export function helpOf(name: string): string | null {
  const help = ALONE[name] ?? BY_SERVER[name];
  if (!help) return null;
  const { says, usage, examples } = help;
  return `yarlop ${name}: ${says}\n\n${usage.map((line) => `  ${line}`).join('\n')}\n${examples.length > 0 ? `\nFor example\n${examples.map(([line, what]) => `  ${line}\n${what ? `      ${what}\n` : ''}`).join('')}` : ''}`;
}

/** Names of all commands, for tests. */
export const COMMAND_NAMES: readonly string[] = [...Object.keys(ALONE), ...Object.keys(BY_SERVER)];
