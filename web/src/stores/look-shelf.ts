import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import { blendPart, withBlendPart } from '../../../core/picture/look/blend-part.ts';
import type { Look, SavedLook, Shot } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { partsOf, takePart } from '../steps/blend/proposal-parts.ts';
import { useNotices } from './notices.ts';
import { usePlayhead } from './playhead.ts';
import { useShot } from './shot.ts';
import { useDocument } from './document.ts';

/** How far a look has got on its way to another shot. */
export interface LookCopy {
  readonly shot: Shot;
  state: 'waiting' | 'copying' | 'measuring' | 'done' | 'failed';
}

/** Looks kept for all shots of the project, and the way of this shot's look to others. */
export const useLookShelf = defineStore('look-shelf', () => {
  const shot = useShot();
  const doc = useDocument();
  const head = usePlayhead();
  const notices = useNotices();
  const kept = shallowRef<readonly SavedLook[]>([]);
  const others = shallowRef<readonly Shot[]>([]);
  const copies = ref<LookCopy[]>([]);
  const copying = ref(false);

  async function refresh(): Promise<void> {
    const project = shot.project?.id;
    const own = shot.shot?.id;
    if (project === undefined) return;
    await notices.guard(async () => {
      const [looks, shots] = await Promise.all([
        call('GET', `/projects/${project}/looks`, 'savedLooks'),
        call('GET', `/projects/${project}/shots`, 'shots'),
      ]);
      if (shot.project?.id !== project) return;
      kept.value = looks;
      others.value = shots.filter((one) => one.id !== own && one.plate !== null);
    });
  }
  watch([() => shot.project?.id, () => shot.shot?.id], () => void refresh(), { immediate: true });

  const use = (part: Look): void => doc.edit((draft) => (draft.look = withBlendPart(draft.look, part)));
  const put = (project: number, name: string, look: Look, frame: number) =>
    notices.guard(
      async () => (kept.value = await call('POST', `/projects/${project}/looks`, 'savedLooks', { name, look, frame })),
    );
  async function keep(name: string): Promise<void> {
    await put(shot.project!.id, name, doc.document!.look, head.frame);
  }
  async function remove({ id, name, look }: SavedLook): Promise<void> {
    const project = shot.project!.id;
    const left = await notices.guard(() => call('DELETE', `/looks/${id}`, 'savedLooks'));
    if (!left) return;
    kept.value = left;
    notices.add(
      `Look “${name}” deleted.`,
      'calm',
      { label: 'Bring it back', run: () => void put(project, name, look, 0) },
      20,
    );
  }

  /** Takes the look of now to other shots, one after the other; with `measured`, what was measured here is measured anew there and taken. */
  async function copyTo(shots: readonly Shot[], measured: boolean): Promise<void> {
    if (copying.value) return;
    copying.value = true;
    const look = doc.document!.look;
    const part = blendPart(look, head.frame);
    const names = measured ? Object.keys(look.why ?? {}) : [];
    copies.value = shots.map((one) => ({ shot: one, state: 'waiting' }));
    for (const copy of copies.value) {
      copy.state = 'failed';
      await notices.guard(async () => {
        copy.state = 'copying';
        await change(copy.shot.id, (there) => withBlendPart(there, part));
        if (names.length > 0) {
          copy.state = 'measuring';
          const found = (await call('POST', `/shots/${copy.shot.id}/look`, 'lookReply')).look;
          await change(copy.shot.id, (there) => {
            const taken = structuredClone(there);
            for (const { name, takes } of partsOf(found))
              if (takes && names.includes(name)) takePart(taken, found, name);
            return taken;
          });
        }
        copy.state = 'done';
      });
      // What went wrong has been said; the others go on.
      if ((copy.state as LookCopy['state']) !== 'done') copy.state = 'failed';
    }
    copying.value = false;
  }
  async function change(id: number, recipe: (look: Look) => Look): Promise<void> {
    const detail = await call('GET', `/shots/${id}`, 'shotDetail');
    await call('PUT', `/shots/${id}/document`, 'saved', {
      base: detail.shot.revision,
      document: { ...detail.document, look: recipe(detail.document.look) },
    });
  }
  return { kept, others, copies, copying, refresh, use, keep, remove, copyTo };
});
