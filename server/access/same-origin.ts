import type { RequestHandler } from 'express';
import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { Problem } from '../../core/base/problem/problem.ts';

/**
 * Refuses requests that a page of elsewhere has the browser send. A name that leads here but is not known may be one that was pointed at this
 * machine for that (DNS rebinding): addresses in figures cannot be, so they are taken. A request that says where it comes from (Origin, or
 * Sec-Fetch-Site of Fetch Metadata, W3C) must come from here; together with cookies that are SameSite=Strict this is what guards against forged requests.
 */
export function sameOrigin(names: readonly string[]): RequestHandler {
  const known = new Set(['localhost', hostname().toLowerCase(), ...names.map((name) => name.toLowerCase())]);
  return (req, _res, next) => {
    const host = req.headers.host ?? '';
    const name = nameOf(host);
    if (!name || !(isIP(name) || known.has(name)))
      throw new Problem('unknown-host', { host: host.slice(0, 100) || '(none)' });
    const { origin } = req.headers;
    if (origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host))
      throw new Problem('other-origin', { origin: origin.slice(0, 100) });
    // Following a link from elsewhere is reading; anything that changes something is not sent by links.
    if (req.headers['sec-fetch-site'] === 'cross-site' && req.method !== 'GET' && req.method !== 'HEAD')
      throw new Problem('other-origin', { origin: 'another site' });
    next();
  };
}

/** A host header's name: without port, lower case, an IPv6 address without brackets. */
function nameOf(host: string): string | null {
  const address = URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname.toLowerCase() : '';
  return address.replace(/^\[|\]$/g, '') || null;
}
