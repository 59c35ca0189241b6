import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { PulledRow } from '../../../core/base/schemas/types.ts';
import { KeyedMotion, type HandKey } from '../../../core/motion/keys/hand-keys.ts';
import { nextKey } from '../../../core/motion/keys/next-key.ts';
import { call } from '../api/client.ts';
import { useDocument } from './document.ts';
import { useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useSaving } from './saving.ts';
import { useShot } from './shot.ts';

/** The corners' keys by hand, what was pulled onto the picture between them, and how the corners go from key to key. */
export const useHandKeys = defineStore('hand-keys', () => {
  const shot = useShot();
  const doc = useDocument();
  const saving = useSaving();
  const jobs = useJobs();
  const notices = useNotices();
  const pulled = shallowRef<readonly PulledRow[]>([]);

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    if (id === undefined || !shot.plate || !(doc.document?.cornerPoints || doc.document?.handKeys)) {
      pulled.value = [];
      return;
    }
    const found = await call('GET', `/shots/${id}/pull`, 'pulledRows');
    if (shot.shot?.id === id) pulled.value = found.rows;
  }
  jobs.onJob((job) => {
    if (job.kind === 'pull' && job.shotId === shot.shot?.id) void notices.guard(refresh);
  });
  watch(
    [() => shot.shot?.id, () => shot.plate?.id, () => doc.document?.referenceFrame],
    () => void notices.guard(refresh),
    { immediate: true },
  );
  async function pull(): Promise<void> {
    if (!shot.shot || !(await saving.saved())) return;
    jobs.take(await call('POST', `/shots/${shot.shot.id}/pull`, 'apiJob'));
    await refresh();
  }

  const keys = computed<HandKey[]>(() =>
    (doc.document?.handKeys ?? []).map((k) => ({ frame: k.frame, corners: k.corners as Quad })),
  );
  const held = computed(
    () => new Map(pulled.value.filter((p) => !keys.value.some((k) => k.frame === p.frame)).map((p) => [p.frame, p])),
  );
  /** How the corners go from key to key; null without any. */
  const motion = computed(() => {
    const d = doc.document;
    const facts = shot.plate?.facts;
    if (!d || !facts || keys.value.length === 0) return null;
    const all =
      d.corners && !keys.value.some((k) => k.frame === d.referenceFrame)
        ? [...keys.value, { frame: d.referenceFrame, corners: d.corners as Quad }]
        : keys.value;
    return new KeyedMotion(
      all,
      facts.width,
      facts.height,
      { focal: d.focal },
      [...held.value.values()].map((p) => ({ frame: p.frame, corners: p.corners as Quad })),
    );
  });
  /** The corners that the keys put on a frame, and how. */
  function keyedAt(frame: number): { corners: Quad; how: 'key' | 'pulled' | 'pose' | 'curves' | 'held' } | null {
    const there = held.value.get(frame);
    if (there) return { corners: there.corners, how: 'pulled' };
    return motion.value?.at(frame) ?? null;
  }
  const proposed = computed(() => {
    if (!motion.value || keys.value.length < 2) return null;
    const known = [...keys.value.map((k) => k.frame), ...(doc.document?.corners ? [doc.document.referenceFrame] : [])];
    const spans = (doc.document?.spans ?? []).filter((s) => s.source === 'keys');
    const all = keys.value.map((k) => k.frame);
    const wanted = (f: number) =>
      spans.length > 0 ? spans.some((s) => s.from <= f && f <= s.to) : f >= Math.min(...all) && f <= Math.max(...all);
    return nextKey(
      motion.value,
      known,
      Array.from({ length: shot.frames }, (_, f) => f)
        .filter(wanted)
        .map((frame) => ({ frame, bound: held.value.has(frame) ? Math.max(...held.value.get(frame)!.bounds) : null })),
    );
  });

  return { pulled, keys, motion, held, proposed, refresh, pull, keyedAt };
});
