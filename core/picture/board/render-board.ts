import { ContentPyramid } from '../pin/content-pyramid.ts';
import { colourMatrix } from '../pin/colour-matrix.ts';
import { applyLevels, levelsNow, type KeyedLevels, type LevelsNow } from '../look/look.ts';
import { layOver, renderPin } from '../pin/pin-layer.ts';
import { applyToPoint, applyToPoints, compose, scaling, type Point } from '../../base/geometry/homography.ts';
import { touchedPixels, type PixelBox } from '../../base/image/pixel-box.ts';
import { createLightPicture, type LightPicture } from '../../base/image/picture.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { coverageOf } from '../matte/coverage.ts';
import type { Board, BoardLayer } from '../../base/schemas/types.ts';
import type { FontFamily, FontSet, FontWeight } from './fonts.ts';
import { layerCorners, layerOnFrame, type LayerOnFrame } from './layer-on-frame.ts';
import { layOutText, TEXT_DEFAULTS, type TextLayout } from './text-layout.ts';

/** What a board is made from besides itself. */
export interface BoardSources {
  /** What of a layer's picture or clip is on show on a frame of the plate; null for nothing. */
  media(layer: BoardLayer, frame: number): Promise<ContentPyramid | null>;
  /** Whether a layer's picture or clip has more than one frame. */
  moves(layer: BoardLayer): boolean;
  font(family: FontFamily, weight: FontWeight): Promise<FontSet>;
}

/** A board's picture of one depth. */
export interface BoardPart {
  readonly depth: number;
  readonly pyramid: ContentPyramid;
}

/**
 * The board on a frame of the plate, `scale` times its size: premultiplied light. Layers one over the other in order; those at a depth of their own
 * are pictures by themselves, from the farthest to the nearest. Display-referred `levels` are applied to every colour and picture.
 */
export async function renderBoard(
  board: Board,
  frame: number,
  sources: BoardSources,
  keyed: KeyedLevels,
  scale = 1,
): Promise<BoardPart[]> {
  const levels = levelsNow(keyed, frame);
  const width = Math.max(1, Math.round(board.width * scale));
  const height = Math.max(1, Math.round(board.height * scale));
  const black = codeToLight(levels.black);
  const size = [width / board.width, height / board.height] as const;
  const depths = [...new Set(board.layers.map((layer) => layer.depth ?? 0).concat(0))].sort((a, b) => b - a);
  const parts: BoardPart[] = [];
  for (const depth of depths) {
    const picture = createLightPicture(width, height);
    if (depth === 0) fill(picture, inkLight(board.background ?? '#000000', levels));
    for (const layer of board.layers)
      if ((layer.depth ?? 0) === depth) await drawLayer(picture, layer, frame, sources, levels, size);
    parts.push({ depth, pyramid: new ContentPyramid(picture, black) });
  }
  return parts;
}

/** Premultiplied light and alpha of #rrggbb or #rrggbbaa. */
export function inkLight(ink: string, levels: LevelsNow): [number, number, number, number] {
  const code = (at: number) => parseInt(ink.slice(at, at + 2), 16) / 255;
  const alpha = ink.length > 7 ? code(7) : 1;
  const light = (c: number) =>
    codeToLight(applyLevels({ ...levels, black: levels.black + levels.blackTint[c]! }, code(1 + 2 * c)));
  const [r, g, b] = [light(0), light(1), light(2)];
  const m = colourMatrix(levels.saturation, levels.hue, levels.tint);
  const seen = (c: number) =>
    alpha * Math.max(0, m ? m[3 * c]! * r + m[3 * c + 1]! * g + m[3 * c + 2]! * b : [r, g, b][c]!);
  return [seen(0), seen(1), seen(2), alpha];
}

function fill({ data }: LightPicture, ink: readonly [number, number, number, number]): void {
  data.set(ink);
  for (let done = 4; done < data.length; done *= 2) data.copyWithin(done, 0, Math.min(done, data.length - done));
}

async function drawLayer(
  picture: LightPicture,
  layer: BoardLayer,
  frame: number,
  sources: BoardSources,
  levels: LevelsNow,
  [sx, sy]: readonly [number, number],
): Promise<void> {
  const on = layerOnFrame(layer, frame);
  if (!on) return;
  const placed: LayerOnFrame = { ...on, toBoard: compose(scaling(sx, sy), on.toBoard) };
  switch (layer.kind) {
    case 'picture':
    case 'clip': {
      const content = await sources.media(layer, frame);
      if (content) drawPicture(picture, content, layer, placed);
      return;
    }
    case 'solid':
    case 'rounded': {
      const { width, height } = sizeOfBox(layer);
      const [l, t, r, b] = on.crop;
      fillPaths(
        picture,
        [
          roundedBox(l, t, width - r, height - b, layer.kind === 'rounded' ? (layer.radius ?? 24) : 0).map((p) =>
            applyToPoint(placed.toBoard, p),
          ),
        ],
        inkLight(layer.colour ?? '#ffffff', levels),
        placed.opacity,
      );
      return;
    }
    case 'text': {
      const { contours } = await textOf(layer, sources);
      fillPaths(
        picture,
        contours.map((path) => applyToPoints(placed.toBoard, path)),
        inkLight(layer.colour ?? '#ffffff', levels),
        placed.opacity,
      );
    }
  }
}

const USUAL_BOX = { width: 400, height: 200 };

export function sizeOfBox(layer: Pick<BoardLayer, 'width' | 'height'>): { width: number; height: number } {
  return { width: layer.width ?? USUAL_BOX.width, height: layer.height ?? USUAL_BOX.height };
}

/** How large a layer is in its own pixels. */
export async function layerSize(
  layer: BoardLayer,
  sources: BoardSources,
  frame: number,
): Promise<{ width: number; height: number }> {
  if (layer.kind === 'solid' || layer.kind === 'rounded') return sizeOfBox(layer);
  if (layer.kind === 'text') {
    const { width, height } = await textOf(layer, sources);
    return { width, height };
  }
  const content = await sources.media(layer, frame);
  return shownSize(layer, content ?? USUAL_BOX);
}

/** A picture's size on the board: as given; given by one side it keeps its proportions. */
function shownSize(
  layer: Pick<BoardLayer, 'width' | 'height'>,
  content: { width: number; height: number },
): { width: number; height: number } {
  const width =
    layer.width ?? (layer.height === undefined ? content.width : (layer.height * content.width) / content.height);
  return { width, height: layer.height ?? (width * content.height) / content.width };
}

const layouts = new WeakMap<BoardLayer, TextLayout>();

/** A text layer's letters; set once as long as the layer is the same object. */
export async function textOf(layer: BoardLayer, sources: Pick<BoardSources, 'font'>): Promise<TextLayout> {
  let layout = layouts.get(layer);
  if (!layout) {
    const font = await sources.font(layer.font ?? TEXT_DEFAULTS.font, layer.weight ?? TEXT_DEFAULTS.weight);
    layout = layOutText(layer.text ?? '', font, {
      size: layer.size ?? TEXT_DEFAULTS.size,
      leading: layer.leading ?? TEXT_DEFAULTS.leading,
      tracking: layer.tracking ?? TEXT_DEFAULTS.tracking,
      align: layer.align ?? TEXT_DEFAULTS.align,
      width: layer.width ?? null,
    });
    layouts.set(layer, layout);
  }
  return layout;
}

function drawPicture(onto: LightPicture, content: ContentPyramid, layer: BoardLayer, placed: LayerOnFrame): void {
  const shown = shownSize(layer, content);
  const quad = layerCorners(placed, shown);
  if (!quad) return;
  const box = touchedPixels(quad, 1, { left: 0, top: 0, right: onto.width, bottom: onto.height });
  if (!box) return;
  const [l, t, r, b] = placed.crop;
  const kx = content.width / shown.width;
  const ky = content.height / shown.height;
  const across = (shown.width - l - r) * kx;
  const down = (shown.height - t - b) * ky;
  const drawn = renderPin(
    {
      content,
      laid: [{ quad, placement: [across, 0, l * kx, 0, down, t * ky, 0, 0, 1], feather: [0, 0, 0, 0], mesh: null }],
      reach: () => quad,
      sides: [false, false, false, false],
    },
    box,
  );
  if (placed.opacity < 1) for (let i = 0; i < drawn.data.length; i++) drawn.data[i]! *= placed.opacity;
  layBox(drawn, box, onto);
}

function layBox(drawn: LightPicture, box: PixelBox, onto: LightPicture): void {
  if (drawn.width === onto.width && drawn.height === onto.height) {
    layOver(drawn, onto);
    return;
  }
  for (let row = box.top; row < box.bottom; row++) {
    const from = (row - box.top) * drawn.width * 4;
    const to = (row * onto.width + box.left) * 4;
    const count = drawn.width * 4;
    layOver(
      { width: drawn.width, height: 1, data: drawn.data.subarray(from, from + count) },
      { width: drawn.width, height: 1, data: onto.data.subarray(to, to + count) },
    );
  }
}

/** Fills closed paths with one colour. */
function fillPaths(
  onto: LightPicture,
  paths: readonly (readonly Point[])[],
  [r, g, b, a]: readonly [number, number, number, number],
  opacity: number,
): void {
  const box =
    paths.length > 0
      ? touchedPixels(paths.flat(), 1, { left: 0, top: 0, right: onto.width, bottom: onto.height })
      : null;
  if (!box) return;
  const { data } = coverageOf(paths, box);
  const width = box.right - box.left;
  for (let i = 0; i < data.length; i++) {
    const share = data[i]! * opacity;
    if (share <= 0) continue;
    const at = ((box.top + Math.floor(i / width)) * onto.width + box.left + (i % width)) * 4;
    const rest = 1 - share * a;
    onto.data[at] = share * r + rest * onto.data[at]!;
    onto.data[at + 1] = share * g + rest * onto.data[at + 1]!;
    onto.data[at + 2] = share * b + rest * onto.data[at + 2]!;
    onto.data[at + 3] = share * a + rest * onto.data[at + 3]!;
  }
}

const QUARTER_PIECES = 10;

/** A rectangle with rounded corners as a polygon; the radius at most half of the shorter side. */
function roundedBox(left: number, top: number, right: number, bottom: number, radius: number): Point[] {
  const r = Math.max(0, Math.min(radius, (right - left) / 2, (bottom - top) / 2));
  if (right <= left || bottom <= top) return [];
  if (r === 0)
    return [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ];
  const corner = (cx: number, cy: number, from: number) =>
    Array.from({ length: QUARTER_PIECES + 1 }, (_, k): Point => {
      const angle = from + (k / QUARTER_PIECES) * (Math.PI / 2);
      return [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
    });
  return [
    ...corner(left + r, top + r, Math.PI),
    ...corner(right - r, top + r, 1.5 * Math.PI),
    ...corner(right - r, bottom - r, 0),
    ...corner(left + r, bottom - r, Math.PI / 2),
  ];
}
