import { motionAbout } from '../../picture/pin/shutter-path.ts';
import { lookNow, resolveLook, type ResolvedLook } from '../../picture/look/look.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { shapeOutline, type ShapeSetting } from '../../picture/matte/roto-shapes.ts';
import type { FrontShape, Look, TrackFile } from '../../base/schemas/types.ts';
import { pretty } from './corner-data.ts';
import { cornersByFrame } from './track-file.ts';

/** The drawn shapes of a look on the frames of a track. */
export class ShapesOnFrames {
  private readonly look: ResolvedLook;
  private readonly corners: ReadonlyMap<number, Quad>;
  private readonly still: Quad;

  constructor(
    readonly track: TrackFile,
    look: Look,
  ) {
    this.look = resolveLook({ ...look, keys: [], spill: { off: true } });
    this.corners = cornersByFrame(track);
    this.still = [
      [0, 0],
      [track.width, 0],
      [track.width, track.height],
      [0, track.height],
    ];
  }

  get shapes(): readonly FrontShape[] {
    return this.look.front.shapes;
  }

  /** Outlines of all shapes on a frame, plate pixels, in order; those that ride on a surface that is lost there are left out. */
  on(frame: number): { shape: FrontShape; points: (readonly [number, number])[]; opacity: number }[] {
    const motion = motionAbout((f) => this.corners.get(f), frame);
    const { motionBlur } = lookNow(this.look, frame);
    const setting: ShapeSetting = {
      motion: motion ?? { before: null, now: this.still, after: null },
      frame,
      reference: this.corners.get(this.track.referenceFrame) ?? null,
      referenceFrame: this.track.referenceFrame,
      ...motionBlur,
      mostMoments: 1,
    };
    return this.shapes.flatMap((shape) => {
      if (!motion && shape.rides !== 'plate') return [];
      const outline = shapeOutline(shape, setting);
      return outline
        ? [
            {
              shape,
              points: outline.points.map(([x, y]): readonly [number, number] => [x, y]),
              opacity: numberAt(shape.opacity ?? 1, frame),
            },
          ]
        : [];
    });
  }
}

const short = (value: number): number => Number(value.toFixed(3));

/**
 * The shapes of a frame as SVG 2 without anything that moves: white where something stands in front (also outside a shape that content
 * is shown within), black where that is taken off again, in their order.
 * Coordinates are plate pixels, which SVG counts from the outer corner of the first one. Soft edges are given in `data-soft` and not drawn.
 */
export function shapesSvg(frames: ShapesOnFrames, frame: number): string {
  const {
    track: { width, height },
  } = frames;
  const paths = frames.on(frame).map(({ shape, points, opacity }, i) => {
    const line = `M${points.map(([x, y]) => `${short(x)} ${short(y)}`).join('L')}Z`;
    const outside = (shape.does === 'within') !== (shape.invert === true);
    const path = outside ? `M0 0H${width}V${height}H0Z${line}` : line;
    return `  <path id="shape-${i + 1}"${shape.name ? ` data-name="${escaped(shape.name)}"` : ''}${shape.soft ? ` data-soft="${shape.soft.join(' ')}"` : ''} fill="${shape.does === 'remove' ? '#000' : '#fff'}"${opacity < 1 ? ` fill-opacity="${short(opacity)}"` : ''} fill-rule="evenodd" d="${path}"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" data-frame="${frame}">\n  <rect width="${width}" height="${height}" fill="#000"/>\n${paths.join('\n')}${paths.length > 0 ? '\n' : ''}</svg>\n`;
}

/** The shapes of every frame as outlines of points. */
export function shapesJson(frames: ShapesOnFrames): string {
  const { track } = frames;
  const head = {
    format: 'yarlop-shapes/1',
    pixelCentre: 'half',
    yAxis: 'down',
    width: track.width,
    height: track.height,
    rate: track.rate,
    firstFrame: 0,
    shapes: frames.shapes.map(({ name, does, soft, invert }, i) => ({
      id: i + 1,
      ...(name ? { name } : {}),
      does: does ?? 'keep',
      ...(soft ? { soft } : {}),
      ...(invert ? { invert } : {}),
    })),
  };
  return pretty(
    head,
    [...track.frames]
      .sort((a, b) => a.frame - b.frame)
      .map(({ frame }) => ({
        frame,
        outlines: frames.on(frame).map(({ shape, points, opacity }) => ({
          id: frames.shapes.indexOf(shape) + 1,
          ...(opacity < 1 ? { opacity } : {}),
          points: points.map(([x, y]) => [short(x), short(y)]),
        })),
      })),
  );
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
