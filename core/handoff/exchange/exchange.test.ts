import { describe, expect, test } from 'vitest';
import { applyToPoint } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { checked } from '../../base/schemas/check.ts';
import type { TrackFile } from '../../base/schemas/types.ts';
import { exportText } from './export-formats.ts';
import { homographyFromFile, homographyToFile, pointFromFile, pointToFile } from '../../base/geometry/pixel-centre.ts';
import { carriedCorners } from '../../surface/seat/seated-corners.ts';
import { cornersByFrame, writeTrack, type TrackFacts } from './track-file.ts';

const CORNERS: Quad = [
  [100.5, 50.5],
  [300.5, 60.5],
  [290.5, 200.5],
  [95.5, 190.5],
];
const H = [1.01, 0.02, 3, -0.01, 0.99, 2, 1e-5, 2e-5, 1];
const FACTS: TrackFacts = {
  pixelCentre: 'integer',
  width: 640,
  height: 360,
  rate: [30000, 1001],
  referenceFrame: 1,
  corners: CORNERS,
  firstFrameNumber: 1001,
};
const FRAMES = [
  { frame: 2, homography: null, error: 3, confidence: 0.02, lost: 'covered' },
  { frame: 0, homography: H, error: 0.123456, confidence: 0.98765 },
  { frame: 1, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], error: 0, confidence: 1 },
];

describe('pixel conventions', () => {
  test('centres at integers are half a pixel less', () => {
    expect(pointToFile([0.5, 0.5], 'integer')).toEqual([0, 0]);
    expect(pointFromFile([0, 0], 'integer')).toEqual([0.5, 0.5]);
    expect(pointToFile([0.5, 0.5], 'half')).toEqual([0.5, 0.5]);
  });
  test('a map and points in the same convention belong together', () => {
    const there = applyToPoint(H, [100.5, 50.5]);
    const inFile = applyToPoint(homographyToFile(H, 'integer'), [100, 50]);
    expect(inFile[0]).toBeCloseTo(there[0] - 0.5, 9);
    homographyFromFile(homographyToFile(H, 'integer'), 'integer').forEach((v, i) => expect(v).toBeCloseTo(H[i]!, 9));
  });
});

describe('track files', () => {
  const track = writeTrack(FACTS, FRAMES);
  test('hold frames in order, lost ones with their reason and without numbers', () => {
    expect(checked('track', JSON.parse(JSON.stringify(track)), 'the track')).toEqual(track);
    expect(track.frames.map((f) => f.frame)).toEqual([0, 1, 2]);
    expect(track.frames[2]).toEqual({ frame: 2, confidence: 0.02, lost: 'covered' });
    expect(track.frames[0]!.error).toBe(0.1235);
    expect(track.frames[1]!.corners![0]).toEqual([100, 50]);
  });
  test('corners come back in our own convention', () => {
    const corners = cornersByFrame(track);
    expect(corners.get(1)).toEqual(CORNERS);
    expect(corners.has(2)).toBe(false);
    const [x, y] = applyToPoint(H, CORNERS[2]);
    expect(corners.get(0)![2][0]).toBeCloseTo(x, 4);
    expect(corners.get(0)![2][1]).toBeCloseTo(y, 4);
  });
  test('corners that would pass behind the camera make the frame a lost one', () => {
    const steep = [1, 0, 0, 0, 1, 0, -0.005, 0, 1];
    expect(carriedCorners(steep, CORNERS)).toBeNull();
    expect(writeTrack(FACTS, [{ frame: 0, homography: steep, error: 0, confidence: 1 }]).frames[0]!.lost).toMatch(
      /behind the camera/,
    );
  });
});

describe('data to hand on', () => {
  const track: TrackFile = writeTrack(FACTS, FRAMES);
  test('CSV: conventions, a header, a row a frame, empty fields where lost (RFC 4180)', () => {
    const lines = exportText({ name: 'shot', track }, 'corners-csv').trimEnd().split('\n');
    const notes = lines.filter((l) => l.startsWith('#')).join('\n');
    expect(notes).toMatch(/640x360, 30000\/1001/);
    expect(notes).toMatch(/own number is 1001/);
    expect(notes).toMatch(/centre of the top-left pixel is at 0, 0/);
    const [header, ...rows] = lines.filter((l) => !l.startsWith('#'));
    expect(header!.split(',')).toHaveLength(9);
    expect(rows).toHaveLength(3);
    expect(rows[1]).toBe('1,100,50,300,60,290,200,95,190');
    expect(rows[2]).toBe('2,,,,,,,,');
  });
  test('JSON: corners and homographies state the same conventions', () => {
    const corners = JSON.parse(exportText({ name: 'shot', track }, 'corners-json')) as Record<string, unknown> & {
      frames: object[];
    };
    const maps = JSON.parse(exportText({ name: 'shot', track }, 'homography-json')) as Record<string, unknown> & {
      frames: { homography?: number[]; lost?: string }[];
    };
    for (const file of [corners, maps])
      expect(file).toMatchObject({
        pixelCentre: 'integer',
        yAxis: 'down',
        firstFrame: 0,
        firstFrameNumber: 1001,
        rate: [30000, 1001],
        referenceFrame: 1,
      });
    expect(corners.frames[2]).toEqual({ frame: 2, lost: 'covered' });
    expect(maps.frames[0]!.homography).toHaveLength(9);
    expect(applyToPoint(maps.frames[0]!.homography!, [100, 50])[0]).toBeCloseTo(track.frames[0]!.corners![0][0], 4);
  });
});
