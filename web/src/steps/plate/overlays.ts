import { useBench } from '../../stores/bench.ts';
import LensGrid from '../../viewer/LensGrid.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import StraightLines from '../../viewer/StraightLines.vue';

registerOverlays('plate', () => {
  const bench = useBench();
  const shown = () => bench.showOutlines;
  return [
    { layer: 'drawing', component: StraightLines, shown },
    { layer: 'drawing', component: LensGrid, shown },
  ];
});
