import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { FollowRequest, Job, Media, PlateCheck, Project, Shot } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useDocument } from './document.ts';
import { isOpen, useJobs } from './jobs.ts';
import { useNotices } from './notices.ts';
import { useSaving } from './saving.ts';
import { useTrack } from './track.ts';

/** The open shot: its plate, media and jobs, and what is asked of the service about it. Document, saving and track are stores of their own. */
export const useShot = defineStore('shot', () => {
  const jobs = useJobs();
  const notices = useNotices();
  const doc = useDocument();
  const saving = useSaving();
  const track = useTrack();
  const shot = shallowRef<Shot | null>(null);
  const project = shallowRef<Project | null>(null);
  const media = shallowRef<Media[]>([]);
  /** What the plate check found; null until it has. */
  const check = shallowRef<PlateCheck | null>(null);
  let stopListening: (() => void) | null = null;

  /** `opened` is called as soon as the document is there: what a person does from then on must not be taken back. */
  async function open(id: number, opened?: () => void): Promise<void> {
    close();
    await load(id);
    opened?.();
    track.begin(id);
    await Promise.all([refreshMedia(), track.refresh(), refreshCheck(), jobs.loadForShot(id)]);
    stopListening = jobs.onJob((job) => void onJob(job));
  }
  async function load(id: number): Promise<void> {
    const detail = await call('GET', `/shots/${id}`, 'shotDetail');
    shot.value = detail.shot;
    project.value = detail.project;
    saving.begin(detail);
  }
  function close(): void {
    saving.end();
    stopListening?.();
    stopListening = null;
    shot.value = null;
  }
  /** Gives up what is not saved for what somebody else has saved. */
  async function takeTheirs(): Promise<void> {
    if (!shot.value) return;
    saving.dropMine();
    await load(shot.value.id);
  }

  async function refreshMedia(): Promise<void> {
    if (shot.value) media.value = await call('GET', `/projects/${shot.value.projectId}/media`, 'mediaList');
  }
  async function refreshCheck(): Promise<void> {
    const plateNow = shot.value?.plate;
    const found =
      plateNow?.state === 'ready' && plateNow.checked
        ? await call('GET', `/media/${plateNow.id}/check`, 'checkReply')
        : null;
    if (shot.value?.plate?.id === plateNow?.id) check.value = found;
  }
  async function refreshShot(): Promise<void> {
    if (!shot.value) return;
    const detail = await call('GET', `/shots/${shot.value.id}`, 'shotDetail');
    shot.value = detail.shot;
    saving.runKey = detail.runKey;
  }
  async function onJob(job: Job): Promise<void> {
    const mine = job.shotId === null || job.shotId === shot.value?.id;
    const ridden = job.kind === 'follow' && job.shotId === doc.document?.rides;
    if (!shot.value || !(mine || ridden) || job.projectId !== shot.value.projectId) return;
    await notices.guard(async () => {
      if (job.kind === 'follow' || job.kind === 'points' || job.kind === 'pull') await track.refresh();
      if ((job.kind === 'bring-in' || job.kind === 'check') && !isOpen(job)) {
        await Promise.all([refreshMedia(), refreshShot()]);
        await refreshCheck();
      }
    });
    // A gap in a sequence is put to the person where it can be decided.
    if (
      job.state === 'failed' &&
      job.problem &&
      !media.value.some((m) => m.id === job.mediaId && m.problemCode === 'sequence-gap')
    )
      notices.add(job.problem);
  }

  async function restore(revisionNumber: number): Promise<void> {
    if (!shot.value || !(await saving.saved())) return;
    await call('POST', `/shots/${shot.value.id}/revisions/${revisionNumber}/restore`, 'shotDetail');
    await load(shot.value.id);
  }
  async function choosePlate(mediaId: number): Promise<void> {
    if (!shot.value) return;
    shot.value = await call('PUT', `/shots/${shot.value.id}/plate`, 'shot', { mediaId });
    await refreshShot();
    await refreshCheck();
  }
  /** Takes another version of the plate under the work done; what does not fit was said before. */
  async function replacePlate(mediaId: number, offset: number): Promise<void> {
    if (!shot.value || !(await saving.saved())) return;
    const base = saving.revision();
    await call('PUT', `/shots/${shot.value.id}/plate/replace`, 'shot', { mediaId, offset, base });
    await open(shot.value.id);
  }
  async function follow(request: FollowRequest): Promise<void> {
    if (!shot.value || !(await saving.saved())) return;
    jobs.take(await call('POST', `/shots/${shot.value.id}/follow`, 'apiJob', request));
    await track.reload();
  }
  /** Forgets what was followed in a span; protected frames stay. */
  async function clearSpan(span: [number, number]): Promise<void> {
    if (!shot.value || !(await saving.saved())) return;
    await call('POST', `/shots/${shot.value.id}/track/clear`, 'trackRows', { frames: span });
    await track.reload();
  }
  /** Lets the shot be moved by another one's track, or by its own regions again. */
  async function ride(on: number | null): Promise<void> {
    doc.edit((draft) => {
      if (on === null) delete draft.rides;
      else draft.rides = on;
    });
    // Refused, it must not stand in the way of the next save.
    if (!(await saving.saved()) && saving.state !== 'conflict') doc.undo();
  }

  const plate = computed(() => (shot.value?.plate?.state === 'ready' ? shot.value.plate : null));
  const frames = computed(() => plate.value?.facts?.frames ?? 0);
  const firstNumber = computed(() => doc.document?.firstFrameNumber ?? plate.value?.facts?.firstFrameNumber ?? 0);
  /** In and out: all frames unless the person chose some. */
  const range = computed<[number, number]>(() => {
    const last = Math.max(0, frames.value - 1);
    const chosen = doc.document?.range;
    return chosen ? [Math.min(last, chosen[0]), Math.min(last, chosen[1])] : [0, last];
  });
  const content = computed(() => media.value.find((m) => m.id === doc.document?.contentId) ?? null);
  /** Work that is done one at a time on a shot; renders stand beside it. */
  const running = computed(
    () => jobs.open.find((job) => job.shotId === shot.value?.id && job.kind !== 'render') ?? null,
  );

  return {
    shot,
    project,
    media,
    check,
    plate,
    frames,
    firstNumber,
    range,
    content,
    running,
    open,
    close,
    takeTheirs,
    restore,
    refreshMedia,
    refreshShot,
    refreshCheck,
    choosePlate,
    replacePlate,
    follow,
    clearSpan,
    ride,
  };
});
