import { computed } from 'vue';
import { useCornerPoints } from '../../../stores/corner-points.ts';
import { useDocument } from '../../../stores/document.ts';
import { useWorkspace } from '../../../stores/workspace.ts';

/** The points that what is pressed concerns: those that are picked, all where none is. */
export function usePickedPoints() {
  const doc = useDocument();
  const found = useCornerPoints();
  const workspace = useWorkspace();
  const list = computed(() => doc.document!.cornerPoints ?? []);
  const names = computed(() => {
    const there = found.points.map((p) => p.name);
    const picked = workspace.pickedPoints.filter((n) => there.includes(n));
    return picked.length > 0 ? picked : there;
  });
  /** The one whose settings are shown, if one was picked. */
  const only = computed(() =>
    names.value.length === 1 || workspace.pickedPoints.length > 0
      ? (list.value.find((p) => p.name === names.value.at(-1)) ?? null)
      : null,
  );
  return { list, names, only };
}
