import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { psnrInside } from '../bench/psnr.ts';
import { composeFrame } from '../core/picture/composite/compose-frame.ts';
import { buildContentPyramid } from '../core/picture/pin/content-pyramid.ts';
import { levelsNow, resolveLook } from '../core/picture/look/look.ts';
import { sideRatio, signedArea, type Quad } from '../core/base/geometry/quad.ts';
import { readStill } from '../server/media/content.ts';
import { COMPOSED, trueComposite } from '../e2e/support/true-composite.ts';
import { contentTexture } from './content-texture.ts';
import { drawComposite } from './draw-composite.ts';
import { matteScene } from './scene/matte.ts';
import { renderFrame, screenCorners, type Scene } from './scene/render.ts';
import { recordFrame } from './scene/sensor.ts';
import type { Shot } from './scene/shot.ts';
import { benchTablet } from './shots/bench-tablet.ts';
import { SHIPPED, SHOTS } from './shots/index.ts';
import { truthOf, type Truth } from './truth.ts';

const here = import.meta.dirname;

/** A shot as a sensor of half the size films it: a quarter of the time. */
function halved(shot: Shot): Shot {
  const half = ({ lens, ...scene }: Scene): Scene => ({
    ...scene,
    lens: { ...lens, width: lens.width / 2, height: lens.height / 2, focal: lens.focal / 2 },
  });
  return { ...shot, scene: (shown) => half(shot.scene(shown)) };
}

test.each(SHIPPED)('%s: the shipped truth is the one that the generator gives', (name) => {
  expect(JSON.parse(readFileSync(join(here, `clips/${name}.truth.json`), 'utf8'))).toEqual(truthOf(SHOTS[name]!()));
});

test('shots differ by their seed and are repeatable', () => {
  const corners = (seed: number) => JSON.stringify(truthOf(benchTablet({ seed })).frames);
  expect(corners(3)).toBe(corners(3));
  expect(corners(3)).not.toBe(corners(4));
});

test('every shot has corners on every frame, a region that holds them, and its own name', () => {
  for (const [name, make] of Object.entries(SHOTS)) {
    const truth = truthOf(make());
    expect(make().name).toBe(name);
    expect(truth.frames).toHaveLength(make().frames);
    // A thrown phone is seen at a slant; none is ever seen from behind.
    for (const { corners } of truth.frames)
      expect(signedArea(corners)).toBeGreaterThan(name === 'thrown-phone' ? 12_000 : 40_000);
  }
});

describe('the matte', () => {
  test('covers the area of the screen quad, sub-pixel exactly', () => {
    const scene = { ...halved(benchTablet()).scene(), shutter: 0, softness: 0 };
    const matte = renderFrame(matteScene(scene), 50);
    let sum = 0;
    for (let i = 0; i < matte.length; i += 3) sum += matte[i]!;
    expect(sum / signedArea(screenCorners(scene, 50))).toBeCloseTo(1, 3);
  });
  test('leaves out what is in front', () => {
    const area = (thumb: boolean) =>
      renderFrame(matteScene(halved(benchTablet({ thumb })).scene()), 34).reduce((a, b) => a + b, 0);
    expect(area(true)).toBeLessThan(0.97 * area(false));
  });
});

test('what is kept of true composites is what the generator draws', async () => {
  const [name, frame] = COMPOSED[1]!;
  const { data } = await drawComposite(name, frame);
  expect(Buffer.compare(await trueComposite(name, frame), data)).toBe(0);
});

test('the true composite agrees with our own compositor on exact corners: ≥ 32 dB inside the screen', async () => {
  // The generator shares no code with core/picture/composite, so that each judges the other.
  const shot = halved(benchTablet());
  const truth: Truth = truthOf(shot);
  const frame = 60;
  const file = join(here, 'content', shot.content);
  const area = shot.scene().cards[0]!.screen!;
  const expected = recordFrame(
    renderFrame(shot.scene(await contentTexture(file, area.width, area.height, shot.levels)), frame),
    null,
    0,
  );
  const plate = {
    width: truth.width,
    height: truth.height,
    data: recordFrame(renderFrame(shot.scene(), frame), shot.noise, 1),
    peak: 255 as const,
  };
  const look = resolveLook({
    levels: truth.levels,
    soften: truth.softness,
    motionBlur: { shutter: truth.shutter, phase: 0 },
  });
  const quad = (f: number) => truth.frames[f]!.corners as unknown as Quad;
  const pyramid = buildContentPyramid(await readStill(file), levelsNow(look.levels, frame));
  const motion = { before: quad(frame - 1), now: quad(frame), after: quad(frame + 1) };
  const ours = composeFrame(
    plate,
    { contents: [{ pyramid }], motion, ratio: sideRatio(quad(truth.referenceFrame)), look, frame },
    'final',
  );
  expect(psnrInside(ours.data, expected, truth.width, truth.height, truth.frames[frame]!.corners)).toBeGreaterThan(40);
});
