import { useBench } from '../../stores/bench.ts';
import FlatView from '../../viewer/FlatView.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import SeatHandles from '../../viewer/SeatHandles.vue';
import SurfaceOverlay from '../../viewer/SurfaceOverlay.vue';

registerOverlays('seat', () => {
  const bench = useBench();
  return [
    { layer: 'drawing', component: SurfaceOverlay, shown: () => bench.showOutlines },
    { layer: 'drawing', component: SeatHandles, shown: () => bench.showOutlines && !bench.flat },
    { layer: 'over', component: FlatView, shown: () => bench.flat },
  ];
});
