import { Router } from 'express';
import { blendPart } from '../../core/picture/look/blend-part.ts';
import { checkLook } from '../../core/picture/composite/check-look.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Database } from '../database/connection.ts';
import { deleteLook, insertLook, listLooks } from '../database/looks.ts';
import { findProject } from '../database/projects.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';

/** Looks that are kept under a name for all shots of a project: list, keep, delete. */
export function lookRoutes(db: Database): Router {
  const router = Router();
  const projectOf = async (id: number) => found(await findProject(db, id), 'project', id);

  route(router, 'get', '/projects/:id/looks', { reply: 'savedLooks' }, async ({ id }) => {
    await projectOf(id());
    return listLooks(db, id());
  });
  route(router, 'post', '/projects/:id/looks', { body: 'keepLook', reply: 'savedLooks' }, async ({ id, body }) => {
    await projectOf(id());
    checkLook(body.look, 'the look');
    const name = body.name.trim();
    if (!(await insertLook(db, id(), name, blendPart(body.look, body.frame))))
      throw new Problem('bad-field', {
        where: 'the look',
        field: 'name',
        why: `"${name}" is taken by another look of this project; choose another, or delete that one`,
      });
    return listLooks(db, id());
  });
  route(router, 'delete', '/looks/:id', { reply: 'savedLooks' }, async ({ id }) =>
    listLooks(db, found(await deleteLook(db, id()), 'look', id())),
  );
  return router;
}
