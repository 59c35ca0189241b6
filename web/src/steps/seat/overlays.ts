import { useWorkspace } from '../../stores/workspace.ts';
import FlatView from '../../viewer/FlatView.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import SeatHandles from '../../viewer/SeatHandles.vue';
import SurfaceOverlay from '../../viewer/SurfaceOverlay.vue';

registerOverlays('seat', () => {
  const workspace = useWorkspace();
  return [
    { layer: 'drawing', component: SurfaceOverlay, shown: () => workspace.showOutlines },
    { layer: 'drawing', component: SeatHandles, shown: () => workspace.showOutlines && !workspace.flat },
    { layer: 'over', component: FlatView, shown: () => workspace.flat },
  ];
});
