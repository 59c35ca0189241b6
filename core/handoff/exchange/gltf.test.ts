import { createRequire } from 'node:module';
import { describe, expect, test } from 'vitest';
import type { TrackFile } from '../../base/schemas/types.ts';
import { exportText } from './export-formats.ts';
import { WIDTH, HEIGHT, CAMERA, QUADS, TRACK, text, type Gltf } from '../../test/exported-track.ts';

describe('OpenTimelineIO', () => {
  test('one clip with the shot’s range, in the plate’s own numbers and rate', () => {
    // Object names and versions as the library publishes them, from memory.
    const told = JSON.parse(text('otio', {}, { plate: 'orders.mp4', range: [2, 9], frames: 12 })) as {
      OTIO_SCHEMA: string;
      tracks: { children: { kind: string; children: Record<string, unknown>[] }[] };
    };
    expect(told.OTIO_SCHEMA).toBe('Timeline.1');
    const [track] = told.tracks.children;
    const [clip] = track!.children;
    expect(track!.kind).toBe('Video');
    expect(clip).toMatchObject({
      OTIO_SCHEMA: 'Clip.1',
      source_range: {
        OTIO_SCHEMA: 'TimeRange.1',
        start_time: { OTIO_SCHEMA: 'RationalTime.1', value: 1003, rate: 30000 / 1001 },
        duration: { value: 8 },
      },
      media_reference: {
        OTIO_SCHEMA: 'ExternalReference.1',
        target_url: 'orders.mp4',
        available_range: { start_time: { value: 1001 }, duration: { value: 12 } },
      },
    });
  });
});

describe('glTF 2.0', () => {
  test.each([
    ['given', { focal: CAMERA.focal, ratio: CAMERA.ratio }],
    ['solved from the corners', { ratio: CAMERA.ratio }],
  ])(
    'valid for the validator of Khronos; corners are seen where they were (focal length %s)',
    async (source, parts) => {
      const file = text('gltf', {}, parts);
      const { validateString } = createRequire(import.meta.url)('gltf-validator') as {
        validateString(
          text: string,
        ): Promise<{ issues: { numErrors: number; numWarnings: number; messages: { code: string }[] } }>;
      };
      const { issues } = await validateString(file);
      expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
      // The coordinates of content are there for whoever puts some on.
      expect(issues.messages.map((m) => m.code)).toEqual(['UNUSED_OBJECT']);
      const scene = JSON.parse(file) as Gltf;
      const bytes = Buffer.from(scene.buffers[0]!.uri.split(',')[1]!, 'base64');
      const [camera] = scene.cameras;
      const [animation] = scene.animations;
      expect(camera!.extras.focalLength).toBe(source);
      expect(Math.abs(camera!.extras.focalLengthPixels / CAMERA.focal - 1)).toBeLessThan(0.01);
      const read = (accessor: number) => {
        const { byteOffset, byteLength } = scene.bufferViews[scene.accessors[accessor]!.bufferView]!;
        return new Float32Array(
          bytes.buffer.slice(bytes.byteOffset + byteOffset, bytes.byteOffset + byteOffset + byteLength),
        );
      };
      const output = (path: string) =>
        read(animation!.samplers[animation!.channels.find((c) => c.target.path === path)!.sampler]!.output);
      const times = read(animation!.samplers[0]!.input);
      const places = output('translation');
      const turns = output('rotation');
      const plane = read(0);
      expect(times).toHaveLength(11);
      times.forEach((seconds, k) => {
        const frame = Math.round((seconds * 30000) / 1001);
        const [qx, qy, qz, qw] = turns.subarray(4 * k, 4 * k + 4) as unknown as [number, number, number, number];
        for (let corner = 0; corner < 4; corner++) {
          // The view matrix is the inverse of the camera's own; then the projection of the specification, §3.10.3, and the viewport.
          const d = [0, 1, 2].map((a) => plane[3 * corner + a]! - places[3 * k + a]!);
          const cross = (u: number[], v: number[]) => [
            u[1]! * v[2]! - u[2]! * v[1]!,
            u[2]! * v[0]! - u[0]! * v[2]!,
            u[0]! * v[1]! - u[1]! * v[0]!,
          ];
          const inverse = [-qx, -qy, -qz];
          const t = cross(inverse, d).map((v) => 2 * v);
          const turned = d.map((v, a) => v + qw * t[a]! + cross(inverse, t)[a]!);
          const high = 1 / Math.tan(camera!.perspective.yfov / 2);
          const x = ((high / camera!.perspective.aspectRatio) * turned[0]!) / -turned[2]!;
          const y = (high * turned[1]!) / -turned[2]!;
          const [u, v] = [((x + 1) / 2) * WIDTH, ((1 - y) / 2) * HEIGHT];
          const [tx, ty] = QUADS[frame]![corner]!;
          expect(Math.hypot(u - tx, v - ty), `frame ${frame}`).toBeLessThan(source === 'given' ? 0.01 : 0.1);
        }
      });
    },
  );
  test('where nothing tells a pose it says so', () => {
    const lost: TrackFile = {
      ...TRACK,
      frames: TRACK.frames.map(({ frame }) => ({ frame, confidence: 0, lost: 'covered' })),
    };
    expect(() => exportText({ name: 'Lost', track: lost }, 'gltf')).toThrow(
      /No frame of Lost tells how a camera sees the surface/,
    );
  });
});
