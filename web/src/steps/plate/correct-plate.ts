import type { Media, MediaCorrections } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useShot } from '../../stores/shot.ts';

/** Sends corrections of a medium; it is read again with them. */
export async function correctPlate(medium: Media, change: MediaCorrections): Promise<void> {
  const shot = useShot();
  // What is set to undefined is what the file says again.
  const corrections = Object.fromEntries(
    Object.entries({ ...medium.corrections, ...change }).filter(([, value]) => value !== undefined),
  ) as MediaCorrections;
  const reply = await call('PUT', `/media/${medium.id}/corrections`, 'uploadReply', { corrections });
  useJobs().take(reply.job);
  await Promise.all([shot.refreshMedia(), shot.refreshShot()]);
}
