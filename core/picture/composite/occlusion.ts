import type { CodedPicture } from '../../base/image/picture.ts';
import { isDisplayColour, type PlateColour } from '../../base/image/plate-colour.ts';
import { compositeKernels } from '../../base/kernels/composite-kernels.ts';
import { channelsOf, excess } from '../matte/colour-key.ts';
import type { FrontMatte } from '../matte/front-of-frame.ts';
import { coarseFill, filledBlocks } from '../matte/coarse-fill.ts';
import { codeWriter } from '../../base/image/code-writer.ts';
import { laySpill, spillTask, type BoxContent, type SpillWork } from './lay-spill.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';

type Planes = [Float32Array, Float32Array, Float32Array];

/** Known colours are grown outward from blocks of so many px. */
const KNOWN = 2;

/** Pixels that are so much in front tell the colours of what is. */
const SOLID = 0.998;

/**
 * Lays the insert behind what stands in front, and over the plate; writes codes into `out`. Returns how much of each pixel of the front's box shows content.
 *
 * Of each pixel C = P + M·B, M being how much of it is screen, B the screen's light, the part P of what is in front is what remains: C − M·B. Spilled
 * light is taken off it, then out = P + M·content. Where nothing was keyed the plate behind a soft edge is unknown; there P is a share of the
 * known colours of what is in front, grown outward under the edge. Only pixels that change are written.
 */
export function layBehindFront(
  plate: CodedPicture,
  matte: FrontMatte,
  insert: InsertLayer | null,
  opacity: number,
  spill: SpillWork | null,
  knownColours: boolean,
  out: CodedPicture,
  colour: PlateColour,
): Float32Array {
  const compiled = layCompiled(plate, matte, insert, opacity, spill, knownColours, out, colour);
  if (compiled) return compiled;
  const {
    box,
    region: { width, height, planes },
    front,
    limit,
    screen,
  } = matte;
  const n = width * height;
  const seen = new Float32Array(n);
  const content = insert && contentInBox(insert, matte);
  const front3: Planes = [planes[0].slice(), planes[1].slice(), planes[2].slice()];
  if (content) for (let i = 0; i < n; i++) seen[i] = content.alpha[i]! > 0 ? (1 - front[i]!) * limit[i]! : 0;
  if (screen) takeScreenOff(front3, screen, seen, matte, knownColours);
  else growKnownColours(front3, front, seen, width, height, knownColours);
  const write = codeWriter(out, colour);
  if (spill) laySpill(plate, colour, matte, front3, spill, content, write);
  const result = new Float32Array(n);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0, at = ((box.top + row) * out.width + box.left) * 3; col < width; col++, i++, at += 3) {
      const m = seen[i]!;
      if (m <= 0) continue;
      // What of the screen the content does not hide stays: it is faint, faded at its side, or transparent.
      const shown = opacity * content!.alpha[i]!;
      const left = 1 - shown;
      const of = screen ?? planes;
      const c = content!.planes;
      write(
        at,
        front3[0][i]! + m * (opacity * c[0][i]! + left * of[0][i]!),
        front3[1][i]! + m * (opacity * c[1][i]! + left * of[1][i]!),
        front3[2][i]! + m * (opacity * c[2][i]! + left * of[2][i]!),
      );
      result[i] = m * shown;
    }
  }
  return result;
}

/** The same by the compiled loops, where they can do it: 8-bit display codes and a keyed screen. */
function layCompiled(
  plate: CodedPicture,
  { box, region, front, limit, screen, marked }: FrontMatte,
  insert: InsertLayer | null,
  opacity: number,
  spill: SpillWork | null,
  knownColours: boolean,
  out: CodedPicture,
  colour: PlateColour,
): Float32Array | null {
  const kernels = compositeKernels();
  const task = spill && spillTask(spill, box);
  if (
    !kernels ||
    !screen ||
    task === undefined ||
    !isDisplayColour(colour) ||
    !(plate.data instanceof Uint8Array) ||
    !(out.data instanceof Uint8Array)
  )
    return null;
  const { main, others } = channelsOf([screen[0][0]!, screen[1][0]!, screen[2][0]!]);
  return kernels.lay({
    codes: plate.data,
    out: out.data,
    pictureWidth: plate.width,
    box,
    planes: region.planes,
    front,
    limit,
    screen,
    marked,
    channels: [main, ...others],
    knownColours,
    insert,
    opacity,
    spill: task,
  });
}

/** Less of a pixel than this does not tell what the surface shows there. */
const LEAST_COVER = 0.02;

/** The insert's premultiplied light over the front's box. Where the screen is keyed, the plate tells how much of a pixel is screen: there it is the light of the whole pixel. */
function contentInBox(
  { layer, box: from, cover }: InsertLayer,
  { box, screen, region: { width, height } }: FrontMatte,
): BoxContent {
  const n = width * height;
  const planes: Planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const alpha = new Float32Array(n);
  const left = Math.max(box.left, from.left);
  const right = Math.min(box.right, from.right);
  for (let row = Math.max(box.top, from.top); row < Math.min(box.bottom, from.bottom); row++) {
    for (
      let col = left,
        i = (row - box.top) * width + left - box.left,
        at = ((row - from.top) * layer.width + left - from.left) * 4;
      col < right;
      col++, i++, at += 4
    ) {
      const covered = cover[at >> 2]!;
      const gain = !screen ? 1 : covered > LEAST_COVER ? 1 / covered : 0;
      planes[0][i] = gain * layer.data[at]!;
      planes[1][i] = gain * layer.data[at + 1]!;
      planes[2][i] = gain * layer.data[at + 2]!;
      alpha[i] = Math.min(1, gain * layer.data[at + 3]!);
    }
  }
  return { planes, alpha };
}

/** C − M·B, never below nothing; on markers, which are no mixture of the two, the share of the colours around. */
function takeScreenOff(
  front3: Planes,
  screen: NonNullable<FrontMatte['screen']>,
  seen: Float32Array,
  { front, marked, region: { width, height } }: FrontMatte,
  knownColours: boolean,
): void {
  for (let c = 0; c < 3; c++) {
    const plane = front3[c]!;
    const behind = screen[c]!;
    for (let i = 0; i < plane.length; i++) {
      const m = seen[i]!;
      if (m <= 0) continue;
      const rest = plane[i]! - m * behind[i]!;
      plane[i] = front[i]! <= 0 || rest < 0 ? 0 : rest;
    }
  }
  holdToKnown(front3, front, seen, marked, screen, width, height, knownColours);
}

/**
 * Under a soft edge the share of what is in front keeps the hue of the solid parts beside it: its excess in the screen's channel is held to theirs.
 * On markers the whole colour is theirs.
 */
function holdToKnown(
  front3: Planes,
  front: Float32Array,
  seen: Float32Array,
  marked: Float32Array | null,
  screen: Planes | NonNullable<FrontMatte['screen']>,
  width: number,
  height: number,
  knownColours: boolean,
): void {
  if (!knownColours && !marked) return;
  const solid = new Float32Array(front.length);
  let soft = false;
  for (let i = 0; i < front.length; i++) {
    solid[i] = front[i]! >= SOLID ? 1 : 0;
    soft ||= seen[i]! > 0 && front[i]! > 0;
  }
  if (!soft) return;
  const known = filledBlocks(front3, solid, width, height, KNOWN);
  const {
    main,
    others: [a, b],
  } = channelsOf([screen[0][0]!, screen[1][0]!, screen[2][0]!]);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i++) {
      const share = front[i]!;
      if (seen[i]! <= 0 || share <= 0) continue;
      if (marked && marked[i]! > 0) {
        for (let c = 0; c < 3; c++) front3[c]![i] = share * known[c]!.at(col, row);
        continue;
      }
      const most = Math.max(
        0,
        share * excess(known[main]!.at(col, row), known[a]!.at(col, row), known[b]!.at(col, row), 0.5),
      );
      const over = excess(front3[main][i]!, front3[a][i]!, front3[b][i]!, 0.5) - most;
      if (over > 0) front3[main][i] = Math.max(0, front3[main][i]! - over);
    }
  }
}

/** Without a known screen: solid parts keep the plate's light, soft ones take a share of the colours grown outward from them. */
function growKnownColours(
  front3: Planes,
  front: Float32Array,
  seen: Float32Array,
  width: number,
  height: number,
  knownColours: boolean,
): void {
  const solid = new Float32Array(front.length);
  let soft = false;
  let any = false;
  for (let i = 0; i < front.length; i++) {
    if (front[i]! >= SOLID) {
      solid[i] = 1;
      any = true;
    } else soft ||= front[i]! > 0 && seen[i]! > 0;
  }
  const known = soft && any && knownColours ? coarseFill(front3, solid, width, height, KNOWN) : front3;
  for (let c = 0; c < 3; c++) {
    const plane = front3[c]!;
    const from = known[c]!;
    for (let i = 0; i < front.length; i++)
      if (seen[i]! > 0)
        plane[i] =
          (front[i]! <= 0 ? 0 : front[i]! >= SOLID ? front[i]! * plane[i]! : front[i]! * from[i]!) +
          (1 - front[i]! - seen[i]!) * plane[i]!;
  }
}
