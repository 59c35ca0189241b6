import { computed } from 'vue';
import type { SpillSettings } from '../../../../core/base/schemas/types.ts';
import { useDocument } from '../../stores/document.ts';
import { useLook } from '../blend/use-look.ts';

/** The shot's own settings of spill, if it has some, and how they are changed. */
export function useSpill() {
  const doc = useDocument();
  const { change: changeLook, whyOf } = useLook();
  const spill = computed<SpillSettings | null>(() => {
    const told = doc.document!.look.spill;
    return told && told !== 'measure' ? told : null;
  });
  const key = computed(() => (Array.isArray(doc.document!.look.keys) ? doc.document!.look.keys[0] : undefined));
  function change(recipe: (spill: SpillSettings) => void): void {
    changeLook((look) => {
      const now: SpillSettings = look.spill && look.spill !== 'measure' ? look.spill : {};
      recipe(now);
      look.spill = now;
    }, 'spill');
  }
  return { spill, key, change, whyOf };
}
