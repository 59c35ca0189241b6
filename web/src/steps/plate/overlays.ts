import { useWorkspace } from '../../stores/workspace.ts';
import LensGrid from '../../viewer/LensGrid.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import StraightLines from '../../viewer/StraightLines.vue';

registerOverlays('plate', () => {
  const workspace = useWorkspace();
  const shown = () => workspace.showOutlines;
  return [
    { layer: 'drawing', component: StraightLines, shown },
    { layer: 'drawing', component: LensGrid, shown },
  ];
});
