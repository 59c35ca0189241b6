import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { IDENTITY, type Homography } from '../../../core/base/geometry/homography.ts';
import type { TrackRow } from '../../../core/base/schemas/types.ts';
import { cornerBound, unpackCertainty } from '../../../core/motion/follow/certainty.ts';
import { call } from '../api/client.ts';
import { useDocument } from './document.ts';
import { useNotices } from './notices.ts';

/** The track of the open shot: a row for each followed frame, asked for as they come. */
export const useTrack = defineStore('track', () => {
  const doc = useDocument();
  const notices = useNotices();
  const byFrame = shallowRef(new Map<number, TrackRow>());
  /** The frame whose row came last: where a running follow is. */
  const newestFrame = ref<number | null>(null);
  let shotId: number | null = null;
  let after = 0;
  /** How often the rows were begun anew. */
  let begun = 0;

  /** Begins without rows, of a shot or of none. */
  function begin(id: number | null): void {
    shotId = id;
    forget();
  }
  function forget(): void {
    byFrame.value = new Map();
    after = 0;
    begun++;
  }
  /** What changed meanwhile is asked for when the answer under way has come. */
  let asking: Promise<void> | null = null;
  let askAgain = false;
  function refresh(): Promise<void> {
    askAgain = asking !== null;
    asking ??= takeChanges().finally(() => {
      asking = null;
      if (askAgain) void notices.guard(refresh);
    });
    return asking;
  }
  async function takeChanges(): Promise<void> {
    if (shotId === null) return;
    const beginning = begun;
    const changes = await call('GET', `/shots/${shotId}/track?after=${after}`, 'trackRows');
    // Meanwhile another shot may have been opened, or all rows asked for anew.
    if (changes.rows.length === 0 || begun !== beginning) return;
    after = changes.after;
    const next = new Map(byFrame.value);
    for (const row of changes.rows) next.set(row.frame, row);
    newestFrame.value = changes.rows.at(-1)?.frame ?? null;
    byFrame.value = next;
  }
  /** Rows that were cleared are not among the changes: all are asked for. */
  async function reload(): Promise<void> {
    forget();
    await refresh();
  }

  const rows = computed(() => [...byFrame.value.values()].sort((a, b) => a.frame - b.frame));
  /** The maps of all frames that have one, the reference among them. */
  const heldMaps = computed(() => {
    const maps = new Map<number, Homography>();
    for (const row of byFrame.value.values()) if (row.homography) maps.set(row.frame, row.homography);
    if (doc.document) maps.set(doc.document.referenceFrame, IDENTITY);
    return maps;
  });
  /** Reference pixels to a frame's; the identity on the reference, null where nothing is known. */
  function homographyAt(frame: number): Homography | null {
    if (frame === doc.document?.referenceFrame) return IDENTITY;
    return byFrame.value.get(frame)?.homography ?? null;
  }
  /** The map of a frame, or of the followed frame next to it. */
  function nearestMap(frame: number): Homography | null {
    const here = homographyAt(frame);
    if (here) return here;
    let nearest = doc.document?.referenceFrame ?? frame;
    for (const row of byFrame.value.values())
      if (row.homography && Math.abs(row.frame - frame) < Math.abs(nearest - frame)) nearest = row.frame;
    return homographyAt(nearest);
  }
  /** How far off the four corners may be on a frame (95 %), px; null where nothing is known. */
  function boundsAt(frame: number): number[] | null {
    const row = byFrame.value.get(frame);
    if (row?.bounds) return [...row.bounds];
    const certainty = row?.certainty && unpackCertainty(row.certainty);
    const corners = doc.document?.corners ?? doc.document?.regions[0]?.points;
    return row?.homography && certainty && corners
      ? corners.map((c) => cornerBound(certainty, row.homography!, c))
      : null;
  }
  /** The frame that most wants a look: lost ones first, then the one with the widest bound. */
  function worstFrame(): number | null {
    const want = (row: TrackRow) =>
      row.homography ? Math.max(0, ...(boundsAt(row.frame) ?? [1 - row.confidence])) : Infinity;
    return (
      rows.value.reduce<{ frame: number; want: number } | null>((worst, row) => {
        const wanted = want(row);
        return worst && worst.want >= wanted ? worst : { frame: row.frame, want: wanted };
      }, null)?.frame ?? null
    );
  }
  return {
    byFrame,
    rows,
    newestFrame,
    heldMaps,
    begin,
    refresh,
    reload,
    homographyAt,
    nearestMap,
    boundsAt,
    worstFrame,
  };
});
