import { expect, test } from 'vitest';
import { spreadTracks } from './spread-tracks.ts';

const track = (x: number, y: number, frames: number) => ({
  first: 0,
  xs: Array<number>(frames).fill(x),
  ys: Array<number>(frames).fill(y),
});

test('of many tracks those of every part of the picture are taken, the longest first', () => {
  const crowd = Array.from({ length: 50 }, (_, i) => track(5 + i / 50, 5, 10 + i));
  const alone = track(95, 55, 3);
  const tracks = [...crowd, alone];
  const taken = spreadTracks(tracks, 4, 100, 60);
  expect(taken).toEqual([47, 48, 49, 50]);
  expect(spreadTracks(tracks, 100, 100, 60)).toHaveLength(51);
});
