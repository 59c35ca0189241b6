import { levelFor } from '../image/level-of-detail.ts';
import { encodeTable, lightTable } from '../image/transfer.ts';
import { compositeCalls, type CompositeExports } from './kernel-calls.ts';
import { convolvePlain } from './plain-convolution.ts';
import type { CompositeKernels, FlatMap, LevelledContent, PinWork } from './composite-kernels.ts';

const PAGE = 65_536;
/** Memory asked for, less where the platform does not give it; pages that are never touched cost nothing. */
const SIZES = [1 << 30, 1 << 28, 1 << 26];
const MOST_LEVELS = 24;
/** Numbers by which room is more than the largest planes need: levels of small pictures are not a third of them. */
const SLACK = 8192;
/** Numbers of a map, an even count, and most maps of one piece of work. */
const MAP_ENTRIES = 26;
const MOST_MAPS = 128;

/** Makes an instance of the module with a memory of so many pages of 64 KiB; throws where there is not as much. */
export type InstantiateComposite = (pages: number) => { readonly exports: object; readonly buffer: ArrayBuffer };

/**
 * The compiled kernels of compositing. The first part of their memory is room for one piece of work at a time, the rest holds levels of content as
 * long as there is scratch, so that content that stays is copied once.
 */
export function compiledComposite(instantiate: InstantiateComposite): CompositeKernels {
  const { exports, buffer } = largest(instantiate);
  const wasm = exports as CompositeExports;
  const call = compositeCalls(wasm);
  const start = (wasm.heapBase.value + 15) & ~15;
  const middle = Math.floor((buffer.byteLength * 0.45) / 16) * 16;
  const mapAt = start;
  const mapView = new Float64Array(buffer, mapAt, MAP_ENTRIES * MOST_MAPS);
  const tableAt = mapAt + 8 * MAP_ENTRIES * MOST_MAPS;
  const table = new Uint32Array(buffer, tableAt, 3 * MOST_LEVELS);
  const lightAt = tableAt + 12 * MOST_LEVELS;
  const encodeAt = lightAt + 1024;
  const valuesAt = encodeAt + ((4 * encodeTable.length + 15) & ~15);
  const values = new Float32Array(buffer, valuesAt, 16);
  const first = valuesAt + 64;
  new Float32Array(buffer, lightAt, 256).set(lightTable(255));
  new Float32Array(buffer, encodeAt, encodeTable.length).set(encodeTable);
  let free = first;
  let kept = new WeakMap<Float32Array, number>();
  let end = middle;
  const take = (floats: number): Float32Array | null => {
    const at = (free + 15) & ~15;
    // What runs over the end by a vector is not read.
    free = at + 4 * floats + 16;
    return free > middle ? null : new Float32Array(buffer, at, floats);
  };
  /** Where a level lies; copied there when it does not yet. */
  const placeOf = (data: Float32Array): number => {
    const there = kept.get(data);
    if (there !== undefined) return there;
    if (end + data.byteLength > buffer.byteLength) {
      kept = new WeakMap();
      end = middle;
      table.fill(0);
    }
    const at = end;
    new Float32Array(buffer, at, data.length).set(data);
    kept.set(data, at);
    end += (data.byteLength + 15) & ~15;
    return at;
  };
  const fits = ({ width, height }: LevelledContent) => 16 * width * height * 1.4 < buffer.byteLength - middle;
  let inTable: LevelledContent | null = null;
  const putLevel = (content: LevelledContent, l: number): void => {
    const level = content.level(l);
    const at = placeOf(level.data);
    table.set([at, level.width, level.height], 3 * l);
  };
  /** Runs over a row's pixels; stops where a level is not at hand, fetches it, goes on. */
  const overLevels = (
    content: LevelledContent,
    count: number,
    run: (from: number) => number,
    levelsAt: (i: number) => readonly number[],
  ): void => {
    if (inTable !== content) table.fill(0);
    inTable = content;
    for (let from = run(0), last = -1; from < count; from = run(from)) {
      // Where rounding makes it another level than it looks here, the one above is asked for too.
      for (const l of levelsAt(from)) putLevel(content, Math.min(content.coarsest, l + (from === last ? 1 : 0)));
      last = from;
    }
  };
  return {
    name: 'compiled',
    openPin(content, width, height, withCover) {
      if (!fits(content)) return null;
      free = first;
      const layer = take(4 * width * height);
      const cover = withCover ? take(width * height) : null;
      const stride = (width + 4) & ~3;
      const places = take(6 * stride);
      const weights = take(width);
      if (!layer || !places || !weights || (withCover && !cover)) return null;
      layer.fill(0);
      cover?.fill(0);
      const plane = 4 * stride;
      const placesAt = places.byteOffset;
      const part = (k: number) => places.subarray(k * stride, k * stride + width);
      const maps = new Map<FlatMap, { at: number; faded: number }>();
      const work: PinWork = {
        layer,
        cover,
        weights,
        places: { u: part(0), v: part(1), su: part(2), sv: part(3), covered: part(4), plain: part(5) },
        flatRow(map, row, from, to, dx, dy, share, at) {
          let put = maps.get(map);
          if (!put) {
            // As many maps as there are moments are used by turns.
            const slot = maps.size % MOST_MAPS;
            const view = mapView.subarray(slot * MAP_ENTRIES, (slot + 1) * MAP_ENTRIES);
            if (maps.size >= MOST_MAPS) maps.clear();
            view.set(map.toContent);
            map.sides.forEach(({ a, b, c, feather }, k) => view.set([a, b, c, feather], 9 + 4 * k));
            put = { at: view.byteOffset, faded: map.sides.some((side) => side.feather > 0) ? 1 : 0 };
            maps.set(map, put);
          }
          call.flatRow({
            map: put.at,
            faded: put.faded,
            row,
            from,
            to,
            dx,
            dy,
            places: placesAt,
            plane,
            share,
            weights: weights.byteOffset,
            cover: cover ? cover.byteOffset + 4 * at : 0,
          });
        },
        patches(count, at) {
          const out = layer.byteOffset + 4 * at;
          overLevels(
            content,
            count,
            (from) =>
              call.addPatches({
                levels: tableAt,
                coarsest: content.coarsest,
                places: placesAt,
                plane,
                weights: weights.byteOffset,
                first: from,
                count,
                out,
              }),
            (i) => {
              return [levelFor(work.places.su[i]!, work.places.sv[i]!, content.coarsest)];
            },
          );
        },
        smooth(count, at, detail, between) {
          const out = layer.byteOffset + 4 * at;
          overLevels(
            content,
            count,
            (from) =>
              call.addSmooth({
                levels: tableAt,
                coarsest: content.coarsest,
                detail,
                between: between ? 1 : 0,
                places: placesAt,
                plane,
                weights: weights.byteOffset,
                first: from,
                count,
                out,
              }),
            (i) => {
              const size = Math.max(work.places.su[i]!, work.places.sv[i]!) * detail;
              const lower = Math.max(0, Math.floor(Math.log2(size)));
              return size <= 1 ? [0] : [lower, lower + 1];
            },
          );
        },
        finish(kernel) {
          if (kernel) {
            const radius = (kernel.length - 1) >> 1;
            const weights4 = take(kernel.length);
            const scratch = take((radius + 2) * width * 4 + 8 * radius + 2 * radius + 8);
            if (!weights4 || !scratch) {
              const soft = {
                layer: convolvePlain(layer, width, height, 4, kernel, 'empty'),
                cover: cover && convolvePlain(cover, width, height, 1, kernel, 'empty'),
              };
              free = first;
              return soft;
            }
            weights4.set(kernel);
            call.convolve({
              data: layer.byteOffset,
              width,
              height,
              channels: 4,
              kernel: weights4.byteOffset,
              radius,
              repeat: 0,
              scratch: scratch.byteOffset,
            });
            if (cover)
              call.convolve({
                data: cover.byteOffset,
                width,
                height,
                channels: 1,
                kernel: weights4.byteOffset,
                radius,
                repeat: 0,
                scratch: scratch.byteOffset,
              });
          }
          free = first;
          return { layer: layer.slice(), cover: cover && cover.slice() };
        },
      };
      return work;
    },
    convolve(data, width, height, channels, kernel, border) {
      const mark = free;
      const radius = (kernel.length - 1) >> 1;
      const put = take(data.length);
      const weights = take(kernel.length);
      const scratch = take((radius + 2) * width * channels + 2 * radius * channels + 2 * radius + 8);
      free = mark;
      if (!put || !weights || !scratch) return null;
      put.set(data);
      weights.set(kernel);
      call.convolve({
        data: put.byteOffset,
        width,
        height,
        channels,
        kernel: weights.byteOffset,
        radius,
        repeat: border === 'repeat' ? 1 : 0,
        scratch: scratch.byteOffset,
      });
      return put.slice();
    },
    filledBlocks(values, weight, width, height, block) {
      free = first;
      const n = width * height;
      const across = Math.ceil(width / block);
      const down = Math.ceil(height / block);
      const m = across * down;
      const planes = take(values.length * n);
      const shares = take(n);
      const to = take(Math.ceil((values.length + 1) * m * 1.5) + 4 * across + SLACK);
      if (!planes || !shares || !to) return null;
      values.forEach((plane, k) => planes.set(plane, k * n));
      shares.set(weight);
      call.filledBlocks({
        count: values.length,
        values: planes.byteOffset,
        stride: 4 * n,
        weight: shares.byteOffset,
        width,
        height,
        block,
        to: to.byteOffset,
      });
      return values.map((_, k) => to.slice(k * m, (k + 1) * m));
    },
    enlarge(plane, across, down, width, height, block) {
      free = first;
      const from = take(plane.length);
      const out = take(width * height);
      const line = take(across + 8);
      if (!from || !out || !line || block % 2 !== 0) return null;
      from.set(plane);
      call.enlarge({
        plane: from.byteOffset,
        across,
        down,
        block,
        width,
        height,
        out: out.byteOffset,
        line: line.byteOffset,
      });
      return out.slice();
    },
    key({ planes, width, height, inside, marked, channels: [main, a, b], colour, told, mix, floor, ceiling }) {
      free = first;
      // Planes are a vector longer than they need, so that the last one is read whole.
      const n = width * height;
      const stride = (n + 7) & ~3;
      const light = take(3 * stride);
      const within = take(stride);
      const marks = marked && take(stride);
      const matte = take(stride);
      const screen = take(3 * stride);
      const scratch = take(5 * stride + SLACK + 8 * width);
      if (!light || !within || (marked && !marks) || !matte || !screen || !scratch) return null;
      planes.forEach((plane, c) => light.set(plane, c * stride));
      within.set(inside);
      if (marked) marks!.set(marked);
      values.set([...colour, told, mix, floor, ceiling]);
      call.keyFront({
        planes: light.byteOffset,
        plane: 4 * stride,
        width,
        height,
        order: main | (a << 2) | (b << 4),
        inside: within.byteOffset,
        marked: marks ? marks.byteOffset : 0,
        values: valuesAt,
        matte: matte.byteOffset,
        screen: screen.byteOffset,
        scratch: scratch.byteOffset,
      });
      const part = (c: number) => screen.slice(c * stride, c * stride + n);
      return { matte: matte.slice(0, n), screen: [part(0), part(1), part(2)] };
    },
    grain({ codes, pictureWidth, box, shown, across, down, seed, own, shared, tables }) {
      free = first;
      const width = box.right - box.left;
      const height = box.bottom - box.top;
      const stride = (width + 3) & ~3;
      const rx = (across.length - 1) >> 1;
      const ry = (down.length - 1) >> 1;
      const high = height + 2 * ry;
      const levels = tables[0]!.length - 1;
      const part = take(shown.length);
      const read = take((3 * width * height) / 4 + 4);
      const weights = take(across.length + down.length);
      const steps = take(3 * (levels + 1));
      const white = take((stride + 2 * rx + 8) * high);
      const lines = take(stride * high);
      const fields = take(4 * stride * height);
      if (!part || !read || !weights || !steps || !white || !lines || !fields) return false;
      part.set(shown);
      weights.set([...across, ...down]);
      tables.forEach((table, c) => steps.set(table, c * (levels + 1)));
      const plane = 4 * stride * height;
      const bytes = new Uint8Array(buffer, read.byteOffset, 3 * width * height);
      const rowOf = (row: number) => ((box.top + row) * pictureWidth + box.left) * 3;
      for (let row = 0; row < height; row++)
        bytes.set(codes.subarray(rowOf(row), rowOf(row) + 3 * width), 3 * row * width);
      for (let c = 0; c < (shared === 0 ? 3 : 4); c++) {
        call.grainField({
          left: box.left,
          top: box.top,
          width,
          height,
          stride,
          across: weights.byteOffset,
          rx,
          down: weights.byteOffset + 4 * across.length,
          ry,
          seed: c === 3 ? seed : seed + c + 1,
          white: white.byteOffset,
          lines: lines.byteOffset,
          out: fields.byteOffset + c * plane,
        });
      }
      call.layGrain({
        codes: read.byteOffset,
        shown: part.byteOffset,
        width,
        height,
        stride,
        fields: fields.byteOffset,
        plane,
        own,
        shared,
        tables: steps.byteOffset,
        levels,
      });
      for (let row = 0; row < height; row++)
        codes.set(bytes.subarray(3 * row * width, 3 * (row + 1) * width), rowOf(row));
      return true;
    },
    halve(data, width, height, weights) {
      // Content is halved while a layer is made: what that has taken stays.
      const mark = free;
      const across = (width + 1) >> 1;
      const down = (height + 1) >> 1;
      const from = kept.get(data) === undefined ? take(data.length) : null;
      const shares = take(weights.length);
      const to = take(4 * across * down);
      const scratch = take(4 * 12 * across);
      free = mark;
      if (!shares || !to || !scratch || (!from && kept.get(data) === undefined)) return null;
      from?.set(data);
      shares.set(weights);
      call.halve({
        from: from ? from.byteOffset : kept.get(data)!,
        width,
        height,
        weights: shares.byteOffset,
        to: to.byteOffset,
        scratch: scratch.byteOffset,
      });
      return to.slice();
    },
    lay({
      codes,
      out,
      pictureWidth,
      box,
      planes,
      front,
      limit,
      screen,
      marked,
      channels,
      knownColours,
      insert,
      opacity,
      spill,
    }) {
      free = first;
      const wide = box.right - box.left;
      const high = box.bottom - box.top;
      const n = wide * high;
      const stride = (n + 7) & ~3;
      const light = take(3 * stride);
      const rest = take(2 * stride);
      const behind = take(3 * stride);
      const marks = marked && take(stride);
      const layer = take(4 * stride);
      const cover = take(stride);
      const seen = take(stride);
      const result = take(stride);
      const sumsRoom = take(8);
      const scratch = take(3 * stride + SLACK);
      // Codes of the larger box, rows padded to whole vectors, and what is written into.
      const own = spill?.box ?? box;
      const across = own.right - own.left;
      const width = (across + 3) & ~3;
      const height = own.bottom - own.top;
      const all = width * height;
      const read = take((3 * all) / 4 + 4);
      const written = take((3 * all) / 4 + 4);
      const ways = spill ? take(2 * all) : null;
      const spillRoom = spill ? take(24 * width + all / 2 + 2 * width + 64) : null;
      if (
        !light ||
        !rest ||
        !behind ||
        (marked && !marks) ||
        !layer ||
        !cover ||
        !seen ||
        !result ||
        !sumsRoom ||
        !scratch ||
        !read ||
        !written ||
        (spill && (!ways || !spillRoom))
      )
        return null;
      planes.forEach((plane, c) => light.set(plane, c * stride));
      screen.forEach((plane, c) => behind.set(plane, c * stride));
      rest.set(front);
      rest.set(limit, stride);
      if (marked) marks!.set(marked);
      const covered =
        insert &&
        insert.box.left <= box.left &&
        insert.box.top <= box.top &&
        insert.box.right >= box.right &&
        insert.box.bottom >= box.bottom;
      if (!covered) {
        layer.fill(0);
        cover.fill(0);
      }
      if (insert) {
        const from = insert.box;
        const left = Math.max(box.left, from.left);
        const count = Math.min(box.right, from.right) - left;
        if (count > 0)
          for (let row = Math.max(box.top, from.top); row < Math.min(box.bottom, from.bottom); row++) {
            const to = (row - box.top) * wide + left - box.left;
            const at = (row - from.top) * insert.layer.width + left - from.left;
            layer.set(insert.layer.data.subarray(4 * at, 4 * (at + count)), 4 * to);
            cover.set(insert.cover.subarray(at, at + count), to);
          }
      }
      const plane = 4 * stride;
      const sums = new Float64Array(buffer, sumsRoom.byteOffset, 4);
      const order = ([main, a, b]: readonly [number, number, number]) => main | (a << 2) | (b << 4);
      call.laySeen({
        count: n,
        planes: light.byteOffset,
        plane,
        front: rest.byteOffset,
        limit: rest.byteOffset + plane,
        screen: behind.byteOffset,
        layer: layer.byteOffset,
        cover: cover.byteOffset,
        seen: seen.byteOffset,
        sums: sums.byteOffset,
      });
      if (knownColours || marked)
        call.holdToKnown({
          width: wide,
          height: high,
          planes: light.byteOffset,
          plane,
          front: rest.byteOffset,
          seen: seen.byteOffset,
          marked: marks ? marks.byteOffset : 0,
          order: order(channels),
          scratch: scratch.byteOffset,
        });
      const bytesOf = (floats: Float32Array) => new Uint8Array(buffer, floats.byteOffset, 3 * all);
      const from = bytesOf(read);
      const to = bytesOf(written);
      const rowOf = (row: number) => ((own.top + row) * pictureWidth + own.left) * 3;
      const rowBytes = 3 * across;
      for (let row = 0; row < height; row++) to.set(out.subarray(rowOf(row), rowOf(row) + rowBytes), 3 * row * width);
      if (spill) {
        if (width === across) {
          ways!.set(spill.weight);
          ways!.set(spill.near, all);
        }
        for (let row = 0; row < height; row++) {
          from.set(codes.subarray(rowOf(row), rowOf(row) + rowBytes), 3 * row * width);
          if (width === across) continue;
          ways!.set(spill.weight.subarray(row * across, (row + 1) * across), row * width);
          ways!.set(spill.near.subarray(row * across, (row + 1) * across), all + row * width);
          for (let col = across; col < width; col++) ways![row * width + col] = 0;
        }
        const total = sums[3]!;
        const [main, a, b] = spill.channels;
        const mean = (c: number) => (spill.replace === 'average' && total > 0 ? sums[c]! / total : 0);
        values.set([
          spill.mix,
          spill.allowance,
          spill.most,
          spill.share,
          spill.screen[main]!,
          spill.screen[a]!,
          spill.screen[b]!,
          mean(main),
          mean(a),
          mean(b),
        ]);
        call.replaceSpill({
          codes: from.byteOffset,
          out: to.byteOffset,
          weight: ways!.byteOffset,
          near: ways!.byteOffset + 4 * all,
          width,
          height,
          order: order(spill.channels),
          front: light.byteOffset,
          frontPlane: plane,
          frontTop: box.top - own.top,
          frontBottom: box.bottom - own.top,
          left: box.left - own.left,
          right: box.right - own.left,
          values: valuesAt,
          table: lightAt,
          encode: encodeAt,
          scratch: spillRoom!.byteOffset,
        });
      }
      call.layMix({
        width: wide,
        height: high,
        planes: light.byteOffset,
        plane,
        screen: behind.byteOffset,
        layer: layer.byteOffset,
        seen: seen.byteOffset,
        opacity,
        encode: encodeAt,
        codes: to.byteOffset + 3 * ((box.top - own.top) * width + box.left - own.left),
        across: width,
        result: result.byteOffset,
      });
      for (let row = 0; row < height; row++)
        out.set(to.subarray(3 * row * width, 3 * row * width + rowBytes), rowOf(row));
      return result.slice(0, n);
    },
  };
}

function largest(instantiate: InstantiateComposite): ReturnType<InstantiateComposite> {
  for (const size of SIZES.slice(0, -1)) {
    try {
      return instantiate(size / PAGE);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
  return instantiate(SIZES.at(-1)! / PAGE);
}
