import { createHash } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';

interface StoredObject {
  readonly bytes: Buffer;
  readonly etag: string;
  readonly at: Date;
}

/**
 * A stand-in for an S3-compatible store, in memory: what the standard clients ask for when they list, read and write objects (Amazon S3 API Reference:
 * ListObjects and ListObjectsV2, GetObject with Range, HeadObject, PutObject, DeleteObject, GetBucketLocation; path style). Signatures are not
 * checked, only that a request is signed with the key that is known.
 */
export class S3Store {
  /** By `bucket/key`. */
  readonly objects = new Map<string, StoredObject>();
  private readonly server: Server;

  private constructor(private readonly accessKey: string) {
    this.server = createServer(
      (req, res) =>
        void this.answer(req, res).catch((error: unknown) => fail(res, 500, 'InternalError', String(error))),
    );
  }

  /** Listens on a free port of this machine. */
  static async start(accessKey = 'FERNHOLLOW'): Promise<S3Store> {
    const store = new S3Store(accessKey);
    await new Promise<void>((resolve) => store.server.listen(0, '127.0.0.1', resolve));
    return store;
  }

  get host(): string {
    return `127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  put(name: string, bytes: Buffer): StoredObject {
    const object = { bytes, etag: createHash('md5').update(bytes).digest('hex'), at: new Date() };
    this.objects.set(name, object);
    return object;
  }

  async stop(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise<void>((resolve) => this.server.close(() => resolve()));
  }

  private async answer(req: IncomingMessage, res: ServerResponse): Promise<void> {
    const url = new URL(req.url ?? '/', 'http://store');
    const name = decodeURIComponent(url.pathname.slice(1));
    const [bucket = '', ...rest] = name.split('/');
    const key = rest.join('/');
    const body = await whole(req);
    if (!(req.headers.authorization ?? '').includes(this.accessKey))
      return fail(res, 403, 'AccessDenied', 'the request is not signed with a key that is known');
    if (url.searchParams.has('location'))
      return xml(res, '<LocationConstraint xmlns="http://s3.amazonaws.com/doc/2006-03-01/"/>');
    if (key === '' && req.method === 'GET') return this.list(res, bucket, url.searchParams);
    if (req.method === 'PUT') {
      res.writeHead(200, { ETag: `"${this.put(name, body).etag}"` }).end();
      return;
    }
    const object = this.objects.get(name);
    if (!object) return fail(res, 404, 'NoSuchKey', 'there is no such object');
    if (req.method === 'DELETE') {
      this.objects.delete(name);
      res.writeHead(204).end();
      return;
    }
    const [, from] = /^bytes=(\d+)-/.exec(req.headers.range ?? '') ?? [];
    const bytes = from === undefined ? object.bytes : object.bytes.subarray(Number(from));
    res.writeHead(from === undefined ? 200 : 206, {
      ETag: `"${object.etag}"`,
      'Content-Length': bytes.length,
      'Last-Modified': object.at.toUTCString(),
      ...(from === undefined
        ? {}
        : { 'Content-Range': `bytes ${from}-${object.bytes.length - 1}/${object.bytes.length}` }),
    });
    res.end(req.method === 'HEAD' ? undefined : bytes);
  }

  private list(res: ServerResponse, bucket: string, query: URLSearchParams): void {
    const prefix = query.get('prefix') ?? '';
    const delimiter = query.get('delimiter') ?? '';
    const under = new Set<string>();
    const contents: string[] = [];
    for (const [name, { bytes, etag, at }] of [...this.objects].sort(([a], [b]) => (a < b ? -1 : 1))) {
      if (!name.startsWith(`${bucket}/${prefix}`)) continue;
      const key = name.slice(bucket.length + 1);
      const cut = delimiter ? key.indexOf(delimiter, prefix.length) : -1;
      if (cut >= 0) under.add(key.slice(0, cut + 1));
      else
        contents.push(
          `<Contents><Key>${escaped(key)}</Key><LastModified>${at.toISOString()}</LastModified><ETag>"${etag}"</ETag><Size>${bytes.length}</Size><StorageClass>STANDARD</StorageClass></Contents>`,
        );
    }
    xml(
      res,
      `<ListBucketResult xmlns="http://s3.amazonaws.com/doc/2006-03-01/"><Name>${bucket}</Name><Prefix>${escaped(prefix)}</Prefix><KeyCount>${contents.length}</KeyCount><MaxKeys>1000</MaxKeys><IsTruncated>false</IsTruncated>${contents.join('')}${[...under].map((one) => `<CommonPrefixes><Prefix>${escaped(one)}</Prefix></CommonPrefixes>`).join('')}</ListBucketResult>`,
    );
  }
}

async function whole(req: IncomingMessage): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of req) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

function xml(res: ServerResponse, text: string, status = 200): void {
  res.writeHead(status, { 'Content-Type': 'application/xml' }).end(`<?xml version="1.0" encoding="UTF-8"?>\n${text}`);
}

function fail(res: ServerResponse, status: number, code: string, message: string): void {
  xml(res, `<Error><Code>${code}</Code><Message>${escaped(message)}</Message></Error>`, status);
}
