import { Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import { type Database, transaction } from '../database/connection.ts';
import { EMPTY_DOCUMENT, insertFirstRevision, readDocument } from '../database/documents.ts';
import {
  createProject,
  findProject,
  listProjects,
  renameProject,
  setProjectArchived,
  setProjectDeleted,
} from '../database/projects.ts';
import { duplicateShot, listShotCards } from '../database/shot-cards.ts';
import { findShot, insertShot, listShots, renameShot, setShotArchived, setShotDeleted } from '../database/shots.ts';
import { ridersOf } from '../database/motion-source.ts';
import { page } from './paging.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';

/** Projects and the shots in them: list, create, duplicate, rename, archive, delete, bring back. */
export function projectRoutes(db: Database): Router {
  const router = Router();
  const projectOf = async (id: number) => found(await findProject(db, id), 'project', id);
  const shotOf = async (id: number) => found(await findShot(db, id), 'shot', id);

  route(router, 'get', '/projects', { reply: 'projects' }, async ({ req, res }) =>
    page(req, res, await listProjects(db)),
  );
  route(router, 'get', '/projects/:id', { reply: 'project' }, ({ id }) => projectOf(id()));
  route(router, 'post', '/projects', { body: 'name', reply: 'project' }, async ({ body }) =>
    projectOf(await createProject(db, body.name.trim())),
  );
  route(router, 'patch', '/projects/:id', { body: 'name', reply: 'project' }, async ({ body, id }) => {
    await projectOf(id());
    await renameProject(db, id(), body.name.trim());
    return projectOf(id());
  });
  route(router, 'delete', '/projects/:id', { reply: 'projects' }, async ({ id }) => {
    found((await setProjectDeleted(db, id(), true)) || null, 'project', id());
    return listProjects(db);
  });
  route(router, 'post', '/projects/:id/restore', { reply: 'project' }, async ({ id }) => {
    await setProjectDeleted(db, id(), false);
    return projectOf(id());
  });

  route(router, 'put', '/projects/:id/archived', { body: 'archive', reply: 'project' }, async ({ body, id }) => {
    await projectOf(id());
    await setProjectArchived(db, id(), body.archived);
    return projectOf(id());
  });

  route(router, 'get', '/projects/:id/cards', { reply: 'shotCards' }, async ({ id }) => {
    await projectOf(id());
    return listShotCards(db, id());
  });
  route(router, 'get', '/projects/:id/shots', { reply: 'shots' }, async ({ id, req, res }) => {
    await projectOf(id());
    return page(req, res, await listShots(db, id()));
  });
  route(router, 'post', '/projects/:id/shots', { body: 'name', reply: 'shot' }, async ({ body, id }) => {
    await projectOf(id());
    const shotId = await transaction(db, async (connection) => {
      const newId = await insertShot(connection, id(), body.name.trim());
      await insertFirstRevision(connection, newId, EMPTY_DOCUMENT);
      return newId;
    });
    return shotOf(shotId);
  });
  route(router, 'patch', '/shots/:id', { body: 'name', reply: 'shot' }, async ({ body, id }) => {
    await shotOf(id());
    await renameShot(db, id(), body.name.trim());
    return shotOf(id());
  });
  route(router, 'put', '/shots/:id/archived', { body: 'archive', reply: 'shot' }, async ({ body, id }) => {
    await shotOf(id());
    await setShotArchived(db, id(), body.archived);
    return shotOf(id());
  });
  route(router, 'post', '/shots/:id/duplicate', { body: 'duplicateShot', reply: 'shot' }, async ({ body, id }) => {
    const { projectId, plate, revision } = await shotOf(id());
    const document = await readDocument(db, id(), revision);
    return shotOf(
      await transaction(db, (connection) =>
        duplicateShot(connection, { id: id(), projectId, plateId: plate?.id ?? null }, document, body.name.trim()),
      ),
    );
  });
  route(router, 'delete', '/shots/:id', { reply: 'shots' }, async ({ id }) => {
    const shot = await shotOf(id());
    const riders = await ridersOf(db, shot);
    if (riders.length > 0)
      throw new Problem('ridden', { riders: riders.map((r) => r.name).join(', '), name: shot.name });
    await setShotDeleted(db, id(), true);
    return listShots(db, shot.projectId);
  });
  route(router, 'post', '/shots/:id/restore', { reply: 'shot' }, async ({ id }) => {
    await setShotDeleted(db, id(), false);
    return shotOf(id());
  });
  return router;
}
