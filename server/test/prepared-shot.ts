import { existsSync, mkdirSync, readdirSync, renameSync, symlinkSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import type { Job, Media, Project, Shot, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import type { Api } from './api.ts';
import { clipPath, ROOT, temporaryFolder } from './folders.ts';
import { ffmpeg } from './media-files.ts';

/** What a test's clip is made from. */
export interface ClipChoice {
  /** One of the demo's clips. */
  clip?: string;
  /** A graph of ffmpeg that changes the picture, before it is made smaller. */
  filter?: string;
  /** As it was filmed, or half as wide and high, as suffices unless pixels are the subject; a quarter, where it only has to be a plate. */
  size?: 'full' | 'half' | 'quarter';
}

/** The first frames of one of the demo's clips, and where its screen is in them. */
export async function shortClip(
  frames: number,
  { clip = 'orders-laptop', filter = 'null', size = 'half' }: ClipChoice = {},
): Promise<{ bytes: Buffer; truth: Truth }> {
  const truth = scaled(await truthOfClip(clip), shareOf(size));
  const made = await fixture(JSON.stringify([frames, clip, filter, size]), 'mp4', (file) =>
    ffmpeg(
      ...[
        '-i',
        clipPath(`${clip}.mp4`),
        '-vf',
        size === 'full' ? filter : `${filter},scale=iw*${shareOf(size)}:ih*${shareOf(size)}:flags=area`,
        '-frames:v',
        String(frames),
      ],
      // Coded anew: copied packets would leave a hole in time where a frame is stored after those that refer to it.
      ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '10', '-bf', '0'],
      ...['-colorspace', 'bt709', '-color_trc', 'bt709', '-color_primaries', 'bt709', '-color_range', 'tv', file],
    ),
  );
  return { bytes: made, truth };
}

export async function truthOfClip(name: string): Promise<Truth> {
  return JSON.parse(await readFile(clipPath(`${name}.truth.json`), 'utf8')) as Truth;
}

const shareOf = (size: 'full' | 'half' | 'quarter'): number => ({ full: 1, half: 0.5, quarter: 0.25 })[size];

/** The truth of a clip made smaller. Pixel centres are at +0.5, so that coordinates scale as they are. */
function scaled(truth: Truth, by: number): Truth {
  const points = (list: [number, number][]) => list.map(([x, y]): [number, number] => [x * by, y * by]);
  return {
    ...truth,
    width: truth.width * by,
    height: truth.height * by,
    softness: truth.softness * by,
    region: points(truth.region),
    ...(truth.keepOut ? { keepOut: points(truth.keepOut) } : {}),
    frames: truth.frames.map(({ frame, corners }) => ({ frame, corners: points(corners) })),
  };
}

/** A folder of the demo's clips, a quarter as wide and high or half, with their truth; its contents are those that ship. */
export async function smallDemo(folder: string): Promise<void> {
  mkdirSync(join(folder, 'clips'), { recursive: true });
  symlinkSync(join(ROOT, 'demo/content'), join(folder, 'content'));
  for (const file of readdirSync(join(ROOT, 'demo/clips')).filter((name) => name.endsWith('.mp4'))) {
    const clip = file.replace('.mp4', '');
    const { frames, height } = await truthOfClip(clip);
    // Chroma is halved once more: sides stay even.
    const size = height % 8 === 0 ? 'quarter' : 'half';
    const { bytes, truth } = await shortClip(frames.length, { clip, size });
    writeFileSync(join(folder, 'clips', file), bytes);
    writeFileSync(join(folder, 'clips', `${clip}.truth.json`), JSON.stringify(truth));
  }
}

/** Stops the check that follows on a plate's coming in. Its job is one of those made next. */
async function stopCheck(api: Api, { media, job }: { media: Media; job: Job }): Promise<void> {
  for (let id = job.id + 1; id < job.id + 50; id++) {
    const { status, body } = await api.request('GET', `/jobs/${id}`);
    if (status !== 200) return;
    const next = body as Job;
    if (next.kind === 'check' && next.mediaId === media.id) {
      await api.request('POST', `/jobs/${id}/stop`);
      return;
    }
  }
}

/** Enough to follow by to a few tenths of a pixel. */
const FEW_POINTS = 1500;

export interface ShotChoice extends ClipChoice {
  /** The middle frame unless given. */
  reference?: number;
  /** Its track is there, as somebody who knows the truth has made it: for tests whose subject is not following. */
  followed?: boolean;
  /** What the plate check finds is asked for; else it would only take time from what is. */
  checked?: boolean;
  /** How many places of the region are looked at on each frame; null, and for clips of full size, as many as are chosen by itself: four times the work. */
  points?: number | null;
}

/** Brings the truth of a span in as the shot's track. */
export async function knownTrack(
  api: Api,
  shotId: number,
  truth: Truth,
  [first, last]: [number, number],
): Promise<void> {
  const lines = truth.frames
    .filter(({ frame }) => frame >= first && frame <= last)
    .map(({ frame, corners }) => [frame, ...corners.flat()].join(','));
  await api.call('POST', `/shots/${shotId}/import`, {
    text: ['frame,ax,ay,bx,by,cx,cy,dx,dy', ...lines].join('\n'),
    mapping: { frame: 0, corners: [1, 2, 3, 4, 5, 6, 7, 8] },
    copy: false,
  });
}

/** A project with one shot that is ready to be followed and rendered. */
export async function preparedShot(
  api: Api,
  frames: number,
  {
    reference = Math.floor(frames / 2),
    size = 'half',
    followed = false,
    checked = false,
    points = size === 'full' ? null : FEW_POINTS,
    ...choice
  }: ShotChoice = {},
): Promise<{ project: Project; shot: Shot; document: ShotDocument; truth: Truth }> {
  const { bytes, truth } = await shortClip(frames, { size, ...choice });
  const project = await api.call<Project>('POST', '/projects', { name: 'Trial' });
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Orders laptop' });
  const plate = await api.bringIn(project.id, 'orders.mp4', bytes);
  if (!checked) await stopCheck(api, plate);
  const content = await api.bringIn(project.id, 'orders.png', await readFile(join(ROOT, 'demo/content/orders.png')));
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.media.id });
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const corners = truth.frames[reference]!.corners as unknown as NonNullable<ShotDocument['corners']>;
  const document: ShotDocument = {
    ...detail.document,
    referenceFrame: reference,
    regions: [{ points: grow(corners, 14 * shareOf(size)) }],
    corners,
    contentId: content.media.id,
    ...(points === null ? {} : { points }),
  };
  await api.call('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document });
  if (followed) await knownTrack(api, shot.id, truth, [0, frames - 1]);
  return { project, shot, document, truth };
}

/** An outline moved outward from its middle. */
function grow(points: readonly (readonly [number, number])[], by: number): [number, number][] {
  const cx = points.reduce((s, p) => s + p[0], 0) / points.length;
  const cy = points.reduce((s, p) => s + p[1], 0) / points.length;
  return points.map(([x, y]) => {
    const length = Math.hypot(x - cx, y - cy);
    return [x + ((x - cx) / length) * by, y + ((y - cy) / length) * by];
  });
}

/** A file that is made once a run, by whichever test wants it first; without a run around it, made anew. */
async function fixture(key: string, ending: string, make: (file: string) => Promise<void>): Promise<Buffer> {
  const shared = process.env.YARLOP_TEST_FIXTURES;
  const own = shared ? null : temporaryFolder();
  const name = `${createHash('sha256').update(key).digest('hex').slice(0, 16)}.${ending}`;
  const file = join(shared ?? own!.path, name);
  try {
    if (!existsSync(file)) {
      const part = join(shared ?? own!.path, `${process.pid}-${Math.random().toString(36).slice(2)}.${ending}`);
      await make(part);
      renameSync(part, file);
    }
    return await readFile(file);
  } finally {
    own?.remove();
  }
}
