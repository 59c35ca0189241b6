import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Job, Media, Project, Shot, ShotDetail, ShotDocument } from '../../core/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { readConfig } from '../config.ts';
import { runTool } from '../media/run-tool.ts';
import { startService, type Service } from '../start/service.ts';
import { Described } from './described.ts';

export const ROOT = join(import.meta.dirname, '../..');
export const clipPath = (name: string): string => join(ROOT, 'demo/clips', name);

/** A folder that goes away with `remove`. */
export function temporaryFolder(): { path: string; remove: () => void } {
  const path = mkdtempSync(join(tmpdir(), 'yarlop-test-'));
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) };
}

export interface TestService extends Service {
  api: Api;
  dataFolder: string;
  end(): Promise<void>;
}

/** The whole service on a throw-away data folder and a free port. */
export async function startTestService(env: Record<string, string> = {}): Promise<TestService> {
  const folder = temporaryFolder();
  const service = await startService(
    readConfig(
      { YARLOP_PORT: '0', YARLOP_LOG: process.env.TEST_LOG ?? 'silent', YARLOP_DATA: folder.path, ...env },
      folder.path,
    ),
  );
  const end = async () => {
    await service.stop();
    if (!process.env.TEST_KEEP) folder.remove();
  };
  return { ...service, api: new Api(service.address), dataFolder: folder.path, end };
}

/** The HTTP interface as another program would use it. */
export class Api {
  private described: Promise<Described> | null = null;

  /** `headers` go with every request: a token, a session. */
  constructor(
    readonly address: string,
    private readonly headers: Readonly<Record<string, string>> = {},
  ) {}

  /** The same service, asked by somebody else. */
  as(headers: Readonly<Record<string, string>>): Api {
    return new Api(this.address, headers);
  }

  async request(
    method: string,
    path: string,
    body?: unknown,
  ): Promise<{ status: number; body: never; headers: Headers }> {
    const response = await fetch(`${this.address}/api/v1${path}`, {
      method,
      headers: { ...this.headers, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const reply = (await response.json()) as never;
    // Every test of the service is one of its description too.
    this.described ??= Described.of(this.address);
    (await this.described).check(
      method,
      path,
      body,
      response.status,
      response.headers.get('content-type') ?? '',
      reply,
    );
    return { status: response.status, body: reply, headers: response.headers };
  }
  /** The reply's body; throws when it is a problem. */
  async call<T>(method: string, path: string, body?: unknown): Promise<T> {
    const reply = await this.request(method, path, body);
    if (reply.status !== 200) throw new Error(`${method} ${path}: ${reply.status} ${JSON.stringify(reply.body)}`);
    return reply.body;
  }
  async bytes(path: string): Promise<Buffer> {
    const response = await fetch(`${this.address}/api/v1${path}`, { headers: this.headers });
    if (!response.ok) throw new Error(`${path}: ${response.status}`);
    return Buffer.from(await response.arrayBuffer());
  }
  async upload(projectId: number, name: string, bytes: Uint8Array | string): Promise<{ status: number; body: never }> {
    const response = await fetch(
      `${this.address}/api/v1/projects/${projectId}/media?name=${encodeURIComponent(name)}`,
      { method: 'POST', body: bytes as BodyInit },
    );
    return { status: response.status, body: (await response.json()) as never };
  }
  /** Waits until a job has ended. */
  async ended(jobId: number, seconds = 120): Promise<Job> {
    return this.until(`/jobs/${jobId}`, (job: Job) => job.state !== 'queued' && job.state !== 'running', seconds);
  }
  async until<T>(path: string, reached: (value: T) => boolean, seconds = 120): Promise<T> {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const value = await this.call<T>('GET', path);
      if (reached(value)) return value;
      if (Date.now() > end)
        throw new Error(`${path} did not get there in ${seconds} s: ${JSON.stringify(value).slice(0, 500)}`);
      await sleep(60);
    }
  }
  async bringIn(projectId: number, name: string, bytes: Uint8Array | string): Promise<{ media: Media; job: Job }> {
    const { status, body } = await this.upload(projectId, name, bytes);
    if (status !== 200) throw new Error(`upload of ${name}: ${status} ${JSON.stringify(body)}`);
    const reply = body as { media: Media; job: Job };
    const job = await this.ended(reply.job.id);
    return { media: await this.call('GET', `/media/${reply.media.id}`), job };
  }
}

/** The first frames of one of the demo's clips; `filter` is a graph of ffmpeg that changes the picture. */
export async function shortClip(
  frames: number,
  filter = 'null',
  clip = 'orders-laptop',
): Promise<{ bytes: Buffer; truth: Truth }> {
  const folder = temporaryFolder();
  try {
    const file = join(folder.path, 'short.mp4');
    const made = await runTool(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        clipPath(`${clip}.mp4`),
        '-vf',
        filter,
        '-frames:v',
        String(frames),
        // Coded anew: copied packets would leave a hole in time where a frame is stored after those that refer to it.
        '-c:v',
        'libx264',
        '-preset',
        'ultrafast',
        '-crf',
        '10',
        '-bf',
        '0',
        '-colorspace',
        'bt709',
        '-color_trc',
        'bt709',
        '-color_primaries',
        'bt709',
        '-color_range',
        'tv',
        file,
      ],
      60_000,
    );
    if (made.exitCode !== 0) throw new Error(made.stderr);
    return { bytes: await readFile(file), truth: await truthOfClip(clip) };
  } finally {
    folder.remove();
  }
}

export async function truthOfClip(name: string): Promise<Truth> {
  return JSON.parse(await readFile(clipPath(`${name}.truth.json`), 'utf8')) as Truth;
}

/** A project with one shot that is ready to be followed and rendered. */
export async function preparedShot(
  api: Api,
  frames: number,
  reference = Math.floor(frames / 2),
  filter?: string,
  clip?: string,
): Promise<{ project: Project; shot: Shot; document: ShotDocument; truth: Truth }> {
  const { bytes, truth } = await shortClip(frames, filter, clip);
  const project = await api.call<Project>('POST', '/projects', { name: 'Trial' });
  const shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Orders laptop' });
  const plate = await api.bringIn(project.id, 'orders.mp4', bytes);
  const content = await api.bringIn(project.id, 'orders.png', await readFile(join(ROOT, 'demo/content/orders.png')));
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.media.id });
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const corners = truth.frames[reference]!.corners as unknown as NonNullable<ShotDocument['corners']>;
  const grown = grow(corners, 14);
  const document: ShotDocument = {
    ...detail.document,
    referenceFrame: reference,
    regions: [{ points: grown }],
    corners,
    contentId: content.media.id,
  };
  await api.call('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document });
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
