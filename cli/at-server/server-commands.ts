import { mkdirSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { DeliveryFormat, Job, Media, RenderLayer } from '../../core/base/schemas/types.ts';
import { checkWritable, note, readJson, readOptions, writeWhole } from '../options.ts';
import { ServerClient } from './server-client.ts';

/** What a command came to, for machines. */
export type CommandResult = Readonly<Record<string, unknown>>;
type ServerCommand = (args: string[]) => Promise<CommandResult>;

const REACH = ['server'] as const;
/** The token of the command, or of the environment, where nobody sees it among the processes. */
const serverOf = (options: { server: string; token?: string | undefined }) =>
  new ServerClient(options.server, options.token ?? process.env.YARLOP_TOKEN);

function rowNumber(name: string, text: string): number {
  if (!/^\d{1,15}$/.test(text))
    throw new Problem('bad-field', { where: 'the command', field: `--${name}`, why: `is "${text}", not a number` });
  return Number(text);
}

/** Commands that a server does (`--server URL`), by name. */
export const SERVER_COMMANDS: Readonly<Record<string, ServerCommand>> = {
  projects: async (args) => {
    const server = serverOf(readOptions(args, REACH, ['token']));
    const projects = await server.call('GET', '/projects', 'projects');
    const shots = Object.fromEntries(
      await Promise.all(
        projects.map(
          async (one) =>
            [
              one.id,
              (await server.call('GET', `/projects/${one.id}/shots`, 'shots')).map(({ id, name }) => ({ id, name })),
            ] as const,
        ),
      ),
    );
    return { projects: projects.map(({ id, name }) => ({ id, name, shots: shots[id] })) };
  },

  'bring-in': async (args) => {
    const options = readOptions(args, [...REACH, 'project'], ['token', 'plate', 'content', 'shot']);
    const server = serverOf(options);
    if (options.plate === undefined && options.content === undefined)
      throw new Problem('unknown-option', { why: '--plate or --content is missing' });
    const projects = await server.call('GET', '/projects', 'projects');
    const project =
      projects.find((one) => one.name === options.project || String(one.id) === options.project) ??
      (await server.call('POST', '/projects', 'project', { name: options.project }));
    const bring = async (file: string): Promise<Media> => {
      const reply = await server.send(
        `/projects/${project.id}/media?name=${encodeURIComponent(basename(file))}`,
        file,
        'uploadReply',
      );
      await server.ended(reply.job, `bringing in ${basename(file)}`);
      return server.call('GET', `/media/${reply.media.id}`, 'media');
    };
    const plate = options.plate === undefined ? null : await bring(options.plate);
    const content = options.content === undefined ? null : await bring(options.content);
    if (plate?.state === 'failed')
      throw new Problem('server-refused', {
        message: plate.problem ?? 'The plate could not be brought in.',
        remedy: 'Bring in another file.',
      });
    let shot: number | null = null;
    if (plate) {
      shot = (
        await server.call('POST', `/projects/${project.id}/shots`, 'shot', {
          name: options.shot ?? basename(options.plate!).replace(/\.\w+$/, ''),
        })
      ).id;
      await server.call('PUT', `/shots/${shot}/plate`, 'shot', { mediaId: plate.id });
      if (content) {
        const { revision, document } = await server.call('GET', `/shots/${shot}/document`, 'documentReply');
        await server.call('PUT', `/shots/${shot}/document`, 'saved', {
          base: revision,
          document: { ...document, contentId: content.id },
        });
      }
    }
    return { project: project.id, shot, plate: plate?.id ?? null, content: content?.id ?? null };
  },

  /** The shot's document out, changed by whatever writes JSON, and in again. */
  document: async (args) => {
    const options = readOptions(args, [...REACH, 'shot'], ['token', 'in', 'out']);
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    if ((options.in === undefined) === (options.out === undefined))
      throw new Problem('unknown-option', {
        why: 'it takes either --out F, to read the document, or --in F, to save it',
      });
    const { revision, document } = await server.call('GET', `/shots/${shot}/document`, 'documentReply');
    if (options.out !== undefined) {
      writeWhole(options.out, `${JSON.stringify(document, null, 1)}\n`);
      return { shot, revision };
    }
    return {
      shot,
      revision: (
        await server.call('PUT', `/shots/${shot}/document`, 'saved', {
          base: revision,
          document: readJson('document', options.in!),
        })
      ).revision,
    };
  },

  track: async (args) => {
    const options = readOptions(args, [...REACH, 'shot'], ['token', 'direction', 'frames']);
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    const frames = spanOf(options.frames);
    const job = await server.ended(
      await server.call('POST', `/shots/${shot}/follow`, 'apiJob', {
        direction: options.direction ?? 'both',
        ...(frames ? { frames } : {}),
      }),
      'following',
    );
    return { shot, job: job.id, frames: job.done };
  },
  points: async (args) => {
    const options = readOptions(args, [...REACH, 'shot'], ['token', 'direction']);
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    const job = await server.ended(
      await server.call('POST', `/shots/${shot}/points`, 'apiJob', { direction: options.direction ?? 'both' }),
      'following points',
    );
    return { shot, job: job.id, frames: job.done };
  },
  pull: async (args) => simpleJob(args, 'pull', 'pulling'),
  seat: async (args) => simpleJob(args, 'seat', 'looking at edges'),
  look: async (args) => {
    const options = readOptions(args, [...REACH, 'shot'], ['token', 'out']);
    const server = serverOf(options);
    const reply = await server.call('POST', `/shots/${rowNumber('shot', options.shot)}/look`, 'lookReply');
    if (options.out !== undefined) writeWhole(options.out, `${JSON.stringify(reply, null, 1)}\n`);
    return { proposed: reply };
  },
  render: async (args) => {
    const options = readOptions(
      args,
      [...REACH, 'shot', 'out'],
      ['token', 'frames', 'format', 'layers', 'quality', 'scale', 'which'],
      ['variants'],
    );
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    const last = await lastFrame(server, shot);
    const request = {
      frames: spanOf(options.frames) ?? [0, last],
      output: (options.format ?? 'h264') as DeliveryFormat,
      ...(options.layers === undefined ? {} : { layers: options.layers.split(',') as RenderLayer[] }),
      ...(options.which === undefined ? {} : { which: options.which }),
      settings: {
        ...(options.quality === undefined ? {} : { quality: options.quality }),
        ...(options.scale === undefined ? {} : { scale: Number(options.scale) }),
      },
    };
    mkdirSync(options.out, { recursive: true });
    const started: Job[] = options.variants
      ? await server.call('POST', `/shots/${shot}/variants/render`, 'jobs', { request })
      : [await server.call('POST', `/shots/${shot}/render`, 'apiJob', request)];
    const files: string[] = [];
    for (const job of started) {
      const done = await server.ended(job, job.render?.variant ? `rendering ${job.render.variant.name}` : 'rendering');
      for (const { name } of done.render?.files ?? []) {
        await server.download(`/jobs/${done.id}/files/${encodeURIComponent(name)}`, join(options.out, basename(name)));
        files.push(join(options.out, basename(name)));
      }
    }
    return { shot, jobs: started.map((job) => job.id), files };
  },
  /** The table of contents from CSV; with `render --variants` it is rendered. */
  variants: async (args) => {
    const options = readOptions(args, [...REACH, 'shot'], ['token', 'table']);
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    if (options.table === undefined)
      return { variants: await server.call('GET', `/shots/${shot}/variants`, 'variants') };
    const reply = await server.call('POST', `/shots/${shot}/variants/table`, 'variantTableReply', {
      text: textOf(options.table),
    });
    for (const problem of reply.problems) note(problem);
    return { made: reply.made, changed: reply.changed, problems: reply.problems };
  },
  export: async (args) => {
    const options = readOptions(args, [...REACH, 'shot', 'format', 'out'], ['token', 'query']);
    const server = serverOf(options);
    checkWritable(options.out);
    await server.download(
      `/shots/${rowNumber('shot', options.shot)}/export/${encodeURIComponent(options.format)}${options.query ? `?${options.query}` : ''}`,
      options.out,
    );
    return { file: options.out };
  },
  import: async (args) => {
    const options = readOptions(args, [...REACH, 'shot', 'in'], ['token', 'mapping'], ['copy']);
    const server = serverOf(options);
    const shot = rowNumber('shot', options.shot);
    const reply = await server.call('POST', `/shots/${shot}/import`, 'importReply', {
      text: textOf(options.in),
      copy: options.copy === true,
      ...(options.mapping === undefined ? {} : { mapping: readJson('importMapping', options.mapping) }),
    });
    return { ...reply };
  },
  archive: async (args) => {
    const options = readOptions(args, REACH, ['token', 'project', 'in', 'out'], ['without-plates', 'with-renders']);
    const server = serverOf(options);
    if (options.in !== undefined) {
      const reply = await server.send('/archives', options.in, 'archiveReply');
      return { ...reply };
    }
    if (options.project === undefined || options.out === undefined)
      throw new Problem('unknown-option', { why: 'it takes --project N and --out F, or --in F' });
    checkWritable(options.out);
    await server.download(
      `/projects/${rowNumber('project', options.project)}/archive?plates=${options['without-plates'] ? 'no' : 'yes'}&renders=${options['with-renders'] ? 'yes' : 'no'}`,
      options.out,
    );
    return { file: options.out };
  },
  /** Any route of docs/api.md. */
  call: async (args) => {
    const options = readOptions(args, [...REACH, 'path'], ['token', 'method', 'body']);
    const server = serverOf(options);
    return {
      reply: await server.json(
        (options.method ?? 'GET').toUpperCase(),
        options.path.startsWith('/') ? options.path : `/${options.path}`,
        options.body === undefined ? undefined : (JSON.parse(textOf(options.body)) as unknown),
      ),
    };
  },
};

async function simpleJob(args: string[], route: string, what: string): Promise<CommandResult> {
  const options = readOptions(args, [...REACH, 'shot'], ['token']);
  const server = serverOf(options);
  const shot = rowNumber('shot', options.shot);
  const job = await server.ended(await server.call('POST', `/shots/${shot}/${route}`, 'apiJob'), what);
  return { shot, job: job.id, frames: job.done };
}

async function lastFrame(server: ServerClient, shot: number): Promise<number> {
  const {
    shot: { plate },
    document,
  } = await server.call('GET', `/shots/${shot}`, 'shotDetail');
  if (!plate?.facts) throw new Problem('no-plate');
  return document.range?.[1] ?? plate.facts.frames - 1;
}

function spanOf(text: string | undefined): [number, number] | null {
  if (text === undefined) return null;
  const [, from, to] = /^(\d{1,7})(?:-(\d{1,7}))?$/.exec(text) ?? [];
  if (from === undefined) throw new Problem('bad-range', { where: '--frames', range: text });
  return [Number(from), Number(to ?? from)];
}

function textOf(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Problem('file-missing', { file }, { cause: error });
  }
}
