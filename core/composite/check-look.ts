import { placeFault } from '../content/place.ts';
import { keyThatDoesNotFit } from '../follow/outline.ts';
import { foldedPatch } from '../geometry/patch-mesh.ts';
import { canBeKeyed } from '../matte/colour-key.ts';
import { Problem } from '../problem/problem.ts';
import type { Board, FrontShape, Look } from '../schemas/types.ts';
import { meshAtFrame } from './look.ts';

/** What a schema cannot say of a look: throws the first fault as a problem that names the field and what to do. `where` names the look's source. */
export function checkLook(look: Look, where: string): void {
  const fail = (field: string, why: string): never => {
    throw new Problem('bad-field', { where, field, why });
  };
  const { mesh, time, keys, shapes = [], spill, board } = look;
  if (look.place) {
    const fault = placeFault(look.fit ?? 'stretch', look.place, 1, { width: 100, height: 100 });
    if (fault) fail('place', `cannot be used: ${fault}`);
  }
  if (time?.trim && time.trim[0] > time.trim[1]) fail('time/trim', `ends (${time.trim[1]}) before it starts (${time.trim[0]})`);
  if (time?.speed !== undefined) checkKeys(time.speed, 'time/speed', fail);
  if (look.depth !== undefined) checkKeys(look.depth, 'depth', fail);
  if (mesh) checkMesh(mesh, fail);
  if (Array.isArray(keys)) {
    keys.forEach((key, i) => {
      if (!canBeKeyed(key.colour, key.mix)) fail(`keys/${i}/colour`, 'is too near grey to tell the screen from what stands before it; pick it on a coloured screen, or use shapes or the difference');
      if ((key.floor ?? 0.1) >= (key.ceiling ?? 0.6)) fail(`keys/${i}/ceiling`, 'must lie above the floor');
    });
  }
  shapes.forEach((shape, i) => checkShape(shape, `shapes/${i}`, fail));
  if (spill && spill !== 'measure') spill.areas?.forEach(({ shape }, i) => checkShape(shape, `spill/areas/${i}/shape`, fail));
  if (board) checkBoard(board, 'board', fail);
}

type Fail = (field: string, why: string) => never;

function checkShape(shape: FrontShape, field: string, fail: Fail): void {
  if (shape.points.length < 3) fail(`${field}/points`, 'are fewer than three: a closed outline needs three or more');
  const wrong = keyThatDoesNotFit(shape);
  if (wrong) fail(`${field}/keys`, wrong.frame === null ? 'handles are not as many as points' : `the key on frame ${wrong.frame} has another number of points than the shape`);
  if (shape.softness && shape.softness.length !== shape.points.length) fail(`${field}/softness`, `tells ${shape.softness.length} widths for ${shape.points.length} points`);
  if (shape.keys) inOrder(shape.keys, `${field}/keys`, fail);
  if (shape.opacity !== undefined) checkKeys(shape.opacity, `${field}/opacity`, fail);
}

function checkMesh(mesh: NonNullable<Look['mesh']>, fail: Fail): void {
  const points = (mesh.columns + 1) * (mesh.rows + 1);
  mesh.keys?.forEach((key, i) => {
    if (key.points.length !== points) fail(`mesh/keys/${i}/points`, `are ${key.points.length}; a mesh of ${mesh.columns} by ${mesh.rows} patches has ${points}`);
  });
  if (mesh.keys) inOrder(mesh.keys, 'mesh/keys', fail);
  if (mesh.bow !== undefined) checkKeys(mesh.bow, 'mesh/bow', fail);
  const frames = new Set([...(mesh.keys ?? []).map((key) => key.frame), ...(Array.isArray(mesh.bow) ? mesh.bow.map((key) => key.frame) : []), 0]);
  for (const frame of frames) {
    const bent = meshAtFrame(mesh, frame), folded = bent && foldedPatch(bent);
    if (folded) fail('mesh', `is folded over itself on frame ${frame}, in the patch ${folded[0] + 1} from the left and ${folded[1] + 1} from the top; move its points apart`);
  }
}

/** What a schema cannot say of a board. */
export function checkBoard(board: Board, field: string, fail: (field: string, why: string) => never): void {
  const ids = new Set<string>();
  board.layers.forEach((layer, i) => {
    const at = `${field}/layers/${i}`;
    if (ids.has(layer.id)) fail(`${at}/id`, `"${layer.id}" is used twice`);
    ids.add(layer.id);
    for (const name of ['position', 'anchor', 'scale', 'rotation', 'opacity', 'crop'] as const) if (layer[name] !== undefined) checkKeys(layer[name], `${at}/${name}`, fail);
    if (layer.time?.trim && layer.time.trim[0] > layer.time.trim[1]) fail(`${at}/time/trim`, 'ends before it starts');
  });
}

function checkKeys(value: unknown, field: string, fail: Fail): void {
  if (hasKeys(value)) inOrder(value, field, fail);
}

function inOrder(keys: readonly { frame: number }[], field: string, fail: Fail): void {
  keys.forEach((key, i) => {
    if (i > 0 && key.frame <= keys[i - 1]!.frame) fail(field, `are not in the order of their frames (${keys[i - 1]!.frame}, ${key.frame})`);
  });
}


function hasKeys(value: unknown): value is { frame: number }[] {
  return Array.isArray(value) && typeof value[0] === 'object' && value[0] !== null && 'frame' in value[0];
}
