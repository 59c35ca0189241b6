import type { Role, Scope } from '../../core/base/schemas/types.ts';

/** What each role may do. */
export const SCOPES_OF: Readonly<Record<Role, readonly Scope[]>> = {
  owner: ['read', 'note', 'render', 'edit', 'manage'],
  artist: ['read', 'note', 'render', 'edit'],
  reviewer: ['read', 'note'],
};

/** What a request asks for; `path` is that under /api/v1. */
export function scopeOf(method: string, path: string): Scope {
  if (/^\/access\/(accounts|tokens)(\/|$)/.test(path)) return 'manage';
  // One's own: whoever is known may.
  if (path === '/access/password') return 'read';
  if (method === 'GET' || method === 'HEAD' || method === 'OPTIONS') return 'read';
  if (/^\/shots\/\d+\/notes$|^\/notes\/\d+\/(answers|settled)$/.test(path)) return 'note';
  if (
    /^\/shots\/\d+\/(render|variants\/render)$|^\/finished\/[^/]+$|^\/jobs\/\d+\/(pause|resume|stop|priority)$/.test(
      path,
    )
  )
    return 'render';
  // Whole projects come and go, and the disk is swept, by those who answer for them.
  if (method === 'DELETE' && /^\/projects\/\d+$/.test(path)) return 'manage';
  return path === '/storage/sweep' ? 'manage' : 'edit';
}
