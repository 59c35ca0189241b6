import { watchThrottled } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { mean } from '../../../core/base/image/statistics.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { SeatReply, SnapReply } from '../../../core/base/schemas/types.ts';
import { scaleAt } from '../../../core/surface/seat/frame-scale.ts';
import { SLICE_LENGTH, STRIPS } from '../../../core/surface/seat/edge-slices.ts';
import type { FrameDrift, Proposal } from '../../../core/surface/seat/drift-corrections.ts';
import {
  AS_THEY_ARE,
  orderBetween,
  reorder,
  reorderMoves,
  reorderSides,
} from '../../../core/surface/seat/turn-quad.ts';
import { call } from '../api/client.ts';
import { seatWorker } from '../preview/seat-worker-client.ts';
import { isOpen, useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useShot } from './shot.ts';
import { useDocument } from './document.ts';
import { useSaving } from './saving.ts';
import { useTrack } from './track.ts';
import { usePlacedCorners } from './placed-corners.ts';

/** What was seen of a frame, in the order that the corners have now. */
export interface SeenFrame {
  readonly frame: number;
  readonly moves: readonly number[] | null;
  readonly bounds: readonly number[] | null;
  readonly support: number;
  readonly strips: readonly Uint8Array[];
  readonly holds: boolean;
}

/** What looking at the borders of all frames has shown, what a snap found, and what is proposed. */
export const useSeat = defineStore('seat', () => {
  const shot = useShot();
  const doc = useDocument();
  const saving = useSaving();
  const track = useTrack();
  const placed = usePlacedCorners();
  const jobs = useJobs();
  const notices = useNotices();
  const reply = shallowRef<SeatReply | null>(null);
  /** The last snap, until the corners are moved otherwise. */
  const snapped = shallowRef<{ reply: SnapReply; frame: number } | null>(null);
  const proposal = shallowRef<Proposal | null>(null);
  const proposing = ref(false);

  const order = computed(() => {
    const measured = reply.value?.measured;
    const corners = doc.document?.corners;
    return measured && corners ? orderBetween(measured.corners, corners) : AS_THEY_ARE;
  });
  const frames = computed(() => {
    const seen = new Map<number, SeenFrame>();
    for (const frame of reply.value?.frames ?? []) {
      const strips = decoded(frame.strips);
      const o = order.value;
      seen.set(frame.frame, {
        frame: frame.frame,
        support: frame.support,
        holds: frame.holds,
        moves: frame.moves && reorderMoves(frame.moves, o),
        bounds: frame.bounds && reorder(frame.bounds, o),
        strips: [...reorderSides(strips.slice(0, 4), o), ...reorder(strips.slice(4), o)],
      });
    }
    return seen;
  });
  const measured = computed(() => reply.value?.measured ?? null);
  /** The measured corners in the order of now. */
  const measuredCorners = computed(() =>
    measured.value ? (reorder(measured.value.corners, order.value) as unknown as Quad) : null,
  );
  const borders = computed(() => (measured.value ? reorderSides(measured.value.borders, order.value) : []));
  const stale = computed(() => [...frames.value.values()].filter((f) => !f.holds).length);
  const running = computed(() => jobs.open.find((job) => job.kind === 'seat' && job.shotId === shot.shot?.id) ?? null);
  watch(frames, (seen) => {
    placed.lock =
      seen.size === 0
        ? null
        : new Map([...seen.values()].flatMap((f) => (f.holds && f.moves ? [[f.frame, f.moves] as const] : [])));
  });

  /** How far off the corners still are on a frame as they are seated now, px of the frame; null where nothing is known. */
  function leftAt(frame: number): { corners: number[]; worst: number; bound: number } | null {
    const drift = driftAt(frame);
    const on = placed.seated?.onReference(frame);
    const base = doc.document?.corners;
    if (!drift || !on || !base || !placed.seatedBase) return null;
    const corners = [0, 1, 2, 3].map(
      (c) =>
        drift.scales[c]! *
        Math.hypot(
          drift.moves[2 * c]! - (on[c]![0] - placed.seatedBase![c]![0]),
          drift.moves[2 * c + 1]! - (on[c]![1] - placed.seatedBase![c]![1]),
        ),
    );
    return { corners, worst: Math.max(...corners), bound: Math.max(...drift.bounds) };
  }
  function driftAt(frame: number): FrameDrift | null {
    const seen = frames.value.get(frame);
    const map = track.homographyAt(frame);
    const corners = doc.document?.corners;
    if (!seen?.moves || !seen.bounds || !seen.holds || !map || !corners) return null;
    return { frame, moves: seen.moves, bounds: seen.bounds, scales: corners.map((c) => scaleAt(map, c)) };
  }
  const drift = computed(() => [...frames.value.keys()].flatMap((frame) => driftAt(frame) ?? []));

  /** What is left on every frame; follows a drag at its own pace, since a long shot has thousands. */
  const left = shallowRef<{ frame: number; worst: number; bound: number }[]>([]);
  const off = computed(() => (left.value.length > 0 ? mean(left.value.map((f) => Math.max(f.worst, f.bound))) : null));
  watchThrottled(
    [frames, () => placed.seated, () => track.byFrame],
    () => {
      left.value = [...frames.value.keys()].flatMap((frame) => {
        const now = leftAt(frame);
        return now ? [{ frame, worst: now.worst, bound: now.bound }] : [];
      });
    },
    { throttle: 200, immediate: true },
  );

  async function refresh(): Promise<void> {
    const id = shot.shot?.id;
    if (id === undefined) return;
    const fetched = await call('GET', `/shots/${id}/seat`, 'seatReply');
    if (shot.shot?.id === id) reply.value = fetched;
  }
  async function measure(): Promise<void> {
    if (!shot.shot || !(await saving.saved())) return;
    proposal.value = null;
    jobs.take(await call('POST', `/shots/${shot.shot.id}/seat`, 'apiJob'));
  }
  /** Puts the corners onto the borders near them, as this frame shows them; false where none are. */
  async function snap(frame: number, border: 'inner' | 'outer'): Promise<SnapReply | null> {
    const corners = placed.cornersAt(frame);
    if (!shot.shot || !corners) return null;
    const found = await call('POST', `/shots/${shot.shot.id}/snap`, 'snapReply', {
      frame,
      corners: corners.map(([x, y]) => [x, y]),
      border,
    });
    snapped.value = { reply: found, frame };
    return found;
  }
  async function match(frame: number, corners: number[]) {
    if (!shot.shot || !(await saving.saved())) return null;
    return (await call('POST', `/shots/${shot.shot.id}/match`, 'matchReply', { frame, corners })).corners;
  }
  async function propose(): Promise<void> {
    const document = doc.document;
    if (!document) return;
    proposing.value = true;
    await notices.guard(async () => {
      // What the lock has taken away needs no key.
      const all =
        document.lock === true ? drift.value.map((d) => ({ ...d, moves: new Array<number>(8).fill(0) })) : drift.value;
      proposal.value = await seatWorker().propose(
        all.map((d) => ({ ...d, moves: [...Array.from(d.moves)], bounds: [...d.bounds], scales: [...d.scales] })),
        document.referenceFrame,
        document.tolerance ?? 0.25,
      );
    });
    proposing.value = false;
  }

  watch(
    [() => shot.shot?.id, () => doc.document?.referenceFrame],
    ([id]) => {
      reply.value = null;
      snapped.value = null;
      proposal.value = null;
      if (id !== undefined) void notices.guard(refresh);
    },
    { immediate: true },
  );
  jobs.onJob((job) => {
    if (job.shotId === shot.shot?.id && (job.kind === 'seat' || job.kind === 'follow') && !isOpen(job))
      void notices.guard(refresh);
  });
  return {
    reply,
    frames,
    measured,
    measuredCorners,
    borders,
    stale,
    running,
    snapped,
    proposal,
    proposing,
    drift,
    left,
    off,
    leftAt,
    driftAt,
    refresh,
    measure,
    snap,
    match,
    propose,
  };
});

function decoded(text: string): Uint8Array[] {
  const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
  return Array.from({ length: STRIPS }, (_, k) => bytes.subarray(k * SLICE_LENGTH, (k + 1) * SLICE_LENGTH));
}

/** The seat's own map on a frame: reference pixels to the frame's, through the corners as they are seated. */
export function seatedMapAt(frame: number) {
  const placed = usePlacedCorners();
  const now = placed.cornersAt(frame);
  const base = placed.seatedBase;
  return now && base ? homographyBetweenQuads(base, now) : null;
}
