import { coveredShare, type CleanFix } from '../look/clean-fix.ts';
import { placeFault } from '../content/content-fit.ts';
import { keyThatDoesNotFit } from '../../base/geometry/outline.ts';
import { foldedPatch } from '../../base/geometry/patch-mesh.ts';
import { canBeKeyed } from '../matte/colour-key.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { Board, FrontShape, Look } from '../../base/schemas/types.ts';
import { meshAtFrame } from '../look/look.ts';

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
  if (time?.trim && time.trim[0] > time.trim[1])
    fail('time/trim', `ends (${time.trim[1]}) before it starts (${time.trim[0]})`);
  if (time?.speed !== undefined) checkKeys(time.speed, 'time/speed', fail);
  if (look.depth !== undefined) checkKeys(look.depth, 'depth', fail);
  checkBlend(look, fail);
  if (look.clean && look.clean.fixes !== 'find')
    look.clean.fixes.forEach((fix, i) => checkFix(fix, `clean/fixes/${i}`, fail));
  if (mesh) checkMesh(mesh, fail);
  if (Array.isArray(keys)) {
    keys.forEach((key, i) => {
      if (!canBeKeyed(key.colour, key.mix))
        fail(
          `keys/${i}/colour`,
          'is too near grey to tell the screen from what stands before it; pick it on a coloured screen, or use shapes or the difference',
        );
      if ((key.floor ?? 0.1) >= (key.ceiling ?? 0.6)) fail(`keys/${i}/ceiling`, 'must lie above the floor');
    });
  }
  shapes.forEach((shape, i) => checkShape(shape, `shapes/${i}`, fail));
  if (spill && spill !== 'measure')
    spill.areas?.forEach(({ shape }, i) => checkShape(shape, `spill/areas/${i}/shape`, fail));
  if (board) checkBoard(board, 'board', fail);
}

type Fail = (field: string, why: string) => never;

/** Values of the Blend step: keys in order, and each within what makes sense of it. */
function checkBlend(look: Look, fail: Fail): void {
  for (const [field, value, least, most] of blendNumbers(look)) {
    if (value === undefined) continue;
    checkKeys(value, field, fail);
    for (const number of hasKeys(value) ? value.map((key) => (key as unknown as { value: unknown }).value) : [value]) {
      if (typeof number === 'number' && !(number >= least && number <= most))
        fail(field, `is ${number}; it must lie between ${least} and ${most}`);
    }
  }
  const { grain, reflections, cast } = look;
  grain?.levels.forEach((one, i) => {
    if (i > 0 && one.level <= grain.levels[i - 1]!.level)
      fail('grain/levels', `are not in order (${grain.levels[i - 1]!.level}, ${one.level})`);
  });
  if (reflections?.from === 'drawn' && !reflections.shape)
    fail('reflections/shape', 'is missing: a drawn reflection needs an outline');
  if (reflections?.shape) checkShape(reflections.shape, 'reflections/shape', fail);
  cast?.areas.forEach(({ shape }, i) => checkShape(shape, `cast/areas/${i}/shape`, fail));
}

/** Fields that may be keyed, with their least and most. */
function blendNumbers({
  levels = {},
  exposure,
  gain,
  soften,
  disc,
  feather,
  crop,
  radius,
  opacity,
  motionBlur = {},
  grain,
  reflections,
  texture,
  cast,
}: Look): [field: string, value: unknown, least: number, most: number][] {
  return [
    ['levels/black', levels.black, -1, 2],
    ['levels/white', levels.white, -1, 2],
    ['levels/gamma', levels.gamma, 0.1, 10],
    ['levels/saturation', levels.saturation, 0, 4],
    ['levels/hue', levels.hue, -360, 360],
    ['exposure', exposure, -20, 20],
    ['gain', gain, 0, 1000],
    ['soften', soften, 0, 100],
    ['disc', disc, 0, 100],
    ['feather', feather, 0, 1000],
    ['crop', crop, -1000, 1000],
    ['radius', radius, 0, 10000],
    ['opacity', opacity, 0, 1],
    ['motionBlur/shutter', motionBlur.shutter, 0, 720],
    ['motionBlur/phase', motionBlur.phase, -360, 360],
    ['grain/amount', grain?.amount, 0, 20],
    ['reflections/gain', reflections?.gain, -10, 100],
    ['reflections/blur', reflections?.blur, 0, 200],
    ['texture/glow/amount', texture?.glow?.amount, 0, 1],
    ['texture/glow/radius', texture?.glow?.radius, 0, 5000],
    ...(cast?.areas ?? []).map((area, i): [string, unknown, number, number] => [
      `cast/areas/${i}/strength`,
      area.strength,
      0,
      100,
    ]),
  ];
}

function checkShape(shape: FrontShape, field: string, fail: Fail): void {
  if (shape.points.length < 3) fail(`${field}/points`, 'are fewer than three: a closed outline needs three or more');
  const wrong = keyThatDoesNotFit(shape);
  if (wrong)
    fail(
      `${field}/keys`,
      wrong.frame === null
        ? 'handles are not as many as points'
        : `the key on frame ${wrong.frame} has another number of points than the shape`,
    );
  if (shape.softness && shape.softness.length !== shape.points.length)
    fail(`${field}/softness`, `tells ${shape.softness.length} widths for ${shape.points.length} points`);
  if (shape.keys) inOrder(shape.keys, `${field}/keys`, fail);
  if (shape.opacity !== undefined) checkKeys(shape.opacity, `${field}/opacity`, fail);
}

/** A fix that covers more of the surface than this leaves too little around it to tell what it should look like. */
export const MOST_COVERED = 0.5;

function checkFix({ outline, shape, method, from, frames }: CleanFix, where: string, fail: Fail): void {
  if ((outline === undefined) === (shape === undefined)) fail(where, 'needs either an outline or a shape');
  if (outline && outline.length < 3) fail(`${where}/outline`, `has ${outline.length} points; it needs three or more`);
  if (shape) checkShape(shape, `${where}/shape`, fail);
  const covers = outline ? coveredShare(outline) : 0;
  if (covers > MOST_COVERED && method !== 'frames')
    fail(
      `${where}/outline`,
      `covers ${Math.round(100 * covers)} % of the surface, so that too little around it tells what it should look like; draw it smaller, or fill it from other frames`,
    );
  if ((method === 'patch' || method === 'clone') && !from)
    fail(`${where}/from`, 'is missing: it is taken from another place of the surface');
  if (frames && frames[0] > frames[1])
    fail(`${where}/frames`, `are ${frames.join('-')}; the first must not come after the last`);
}

function checkMesh(mesh: NonNullable<Look['mesh']>, fail: Fail): void {
  const points = (mesh.columns + 1) * (mesh.rows + 1);
  mesh.keys?.forEach((key, i) => {
    if (key.points.length !== points)
      fail(
        `mesh/keys/${i}/points`,
        `are ${key.points.length}; a mesh of ${mesh.columns} by ${mesh.rows} patches has ${points}`,
      );
  });
  if (mesh.keys) inOrder(mesh.keys, 'mesh/keys', fail);
  if (mesh.bow !== undefined) checkKeys(mesh.bow, 'mesh/bow', fail);
  const frames = new Set([
    ...(mesh.keys ?? []).map((key) => key.frame),
    ...(Array.isArray(mesh.bow) ? mesh.bow.map((key) => key.frame) : []),
    0,
  ]);
  for (const frame of frames) {
    const bent = meshAtFrame(mesh, frame);
    const folded = bent && foldedPatch(bent);
    if (folded)
      fail(
        'mesh',
        `is folded over itself on frame ${frame}, in the patch ${folded[0] + 1} from the left and ${folded[1] + 1} from the top; move its points apart`,
      );
  }
}

/** What a schema cannot say of a board. */
export function checkBoard(board: Board, field: string, fail: (field: string, why: string) => never): void {
  const ids = new Set<string>();
  board.layers.forEach((layer, i) => {
    const at = `${field}/layers/${i}`;
    if (ids.has(layer.id)) fail(`${at}/id`, `"${layer.id}" is used twice`);
    ids.add(layer.id);
    for (const name of ['position', 'anchor', 'scale', 'rotation', 'opacity', 'crop'] as const)
      if (layer[name] !== undefined) checkKeys(layer[name], `${at}/${name}`, fail);
    if (layer.time?.trim && layer.time.trim[0] > layer.time.trim[1]) fail(`${at}/time/trim`, 'ends before it starts');
  });
}

function checkKeys(value: unknown, field: string, fail: Fail): void {
  if (hasKeys(value)) inOrder(value, field, fail);
}

function inOrder(keys: readonly { frame: number }[], field: string, fail: Fail): void {
  keys.forEach((key, i) => {
    if (i > 0 && key.frame <= keys[i - 1]!.frame)
      fail(field, `are not in the order of their frames (${keys[i - 1]!.frame}, ${key.frame})`);
  });
}

function hasKeys(value: unknown): value is { frame: number }[] {
  return Array.isArray(value) && typeof value[0] === 'object' && value[0] !== null && 'frame' in value[0];
}
