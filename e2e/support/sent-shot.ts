import { unzipSync } from 'fflate';
import type { Job, RenderLedger, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import { Api } from '../../server/test/api.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';

export const FRAMES = 10;
export const REFERENCE = 5;

/** A shot of the laptop; how it moves is known. */
export const laptop = (api: Api, size: 'full' | 'half' = 'half') =>
  preparedShot(api, FRAMES, { reference: REFERENCE, size, followed: true });
export async function change(api: Api, id: number, recipe: (document: ShotDocument) => ShotDocument): Promise<void> {
  const { shot, document } = await api.call<ShotDetail>('GET', `/shots/${id}`);
  await api.call('PUT', `/shots/${id}/document`, { base: shot.revision, document: recipe(document) });
}
export const states = async (api: Api, id: number) =>
  (await api.call<RenderLedger>('GET', `/shots/${id}/ledger`)).frames.map((f) => f.state);
export async function written(api: Api, id: number, frame: number, layer: 'full' | 'matte'): Promise<Buffer> {
  const job = await api.ended(
    (await api.call<Job>('POST', `/shots/${id}/render`, { frames: [frame, frame], output: 'png', layers: [layer] })).id,
  );
  const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`)));
  return Buffer.from(Object.values(zip)[0]!);
}
