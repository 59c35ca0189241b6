import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type { Point } from '../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { planeThroughPoints } from '../../../core/motion/scene/plane-points.ts';
import { readScene } from '../../../core/motion/scene/scene-file.ts';
import { cornersOnFrame, planeSeenFrom, type ScenePlane } from '../../../core/motion/scene/scene-plane.ts';
import { randomFrom } from '../../../core/motion/scene/seeded-random.ts';
import type { Vector3 } from '../../../core/motion/pose/rotation.ts';
import type { SceneReply } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { isOpen, useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { useDocument } from './document.ts';
import { useSaving } from './saving.ts';

/** The same outline gives the same plane. */
const SEED = 1;
const NOTHING_SAID = Array<number>(9).fill(0);

/** The solved surroundings of the shot: camera, still points, and the plane of the corners in them. */
export const useScene = defineStore('scene', () => {
  const shot = useShot();
  const doc = useDocument();
  const saving = useSaving();
  const jobs = useJobs();
  const notices = useNotices();
  const reply = shallowRef<SceneReply | null>(null);

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    if (id === undefined || !shot.plate) {
      reply.value = null;
      return;
    }
    const found = await call('GET', `/shots/${id}/scene`, 'sceneReply');
    if (shot.shot?.id === id) reply.value = found;
  }
  jobs.onJob((job) => {
    if (job.kind === 'scene' && job.shotId === shot.shot?.id && !isOpen(job)) void notices.guard(refresh);
  });
  watch([() => shot.shot?.id, () => shot.plate?.id], () => void notices.guard(refresh), { immediate: true });
  // Whether it is still of the settings as they are is decided by the service.
  watch(
    () => saving.state,
    (state) => state === 'saved' && reply.value?.scene && void notices.guard(refresh),
  );

  const file = computed(() => reply.value?.scene ?? null);
  const scene = computed(() => (file.value ? readScene(file.value) : null));
  const running = computed(
    () => jobs.open.find((job) => job.kind === 'scene' && job.shotId === shot.shot?.id && isOpen(job)) ?? null,
  );
  /** The plane on the reference frame: as it was put by hand, or found. */
  const plane = computed((): ScenePlane | null => {
    const found = reply.value?.plane;
    const document = doc.document;
    if (!scene.value || !document) return null;
    if (document.scene?.normal)
      return {
        frame: document.referenceFrame,
        normal: document.scene.normal as unknown as Vector3,
        covariance: NOTHING_SAID,
      };
    return found
      ? planeSeenFrom(
          scene.value,
          { frame: found.frame, normal: found.normal as unknown as Vector3, covariance: found.covariance },
          document.referenceFrame,
        )
      : null;
  });
  /** The corners as the plane carries them; null where nothing is known. */
  function cornersAt(frame: number): Quad | null {
    const corners = doc.document?.corners as Quad | null | undefined;
    const on = scene.value?.frames.find((f) => f.frame === frame);
    return scene.value && plane.value && corners && on ? cornersOnFrame(scene.value, plane.value, corners, on) : null;
  }
  /** The plane, as the reference frame has it, through the still points that are filmed inside an outline on a frame; or why there is none. */
  function planeThrough(frame: number, outline: readonly Point[]): ScenePlane | string {
    const solved = scene.value;
    const document = doc.document;
    if (!solved || !document || !solved.frames.some((f) => f.frame === frame))
      return 'On this frame the camera is not known. Draw on another frame.';
    const found = planeThroughPoints(solved, frame, outline, randomFrom(SEED));
    const seen =
      found &&
      planeSeenFrom(solved, { frame, normal: found.normal, covariance: NOTHING_SAID }, document.referenceFrame);
    return (
      seen ??
      'A plane needs three points or more, not on one line. Draw around more of them, or follow more points there.'
    );
  }
  const used = computed(() => doc.document?.spans?.some((s) => s.source === 'scene') ?? false);

  async function solve(): Promise<void> {
    if (shot.shot && (await saving.saved())) jobs.take(await call('POST', `/shots/${shot.shot.id}/scene`, 'apiJob'));
  }
  return { reply, file, scene, running, plane, cornersAt, planeThrough, used, solve, refresh };
});
