import { useWorkspace } from '../../stores/workspace.ts';
import MeasuredPlaces from '../../viewer/MeasuredPlaces.vue';
import OutlineOverlay from '../../viewer/OutlineOverlay.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';

registerOverlays('blend', () => {
  const workspace = useWorkspace();
  return [
    {
      layer: 'drawing',
      component: OutlineOverlay,
      props: () => ({ lists: ['cast', 'reflection'] }),
      shown: () => workspace.showOutlines && (workspace.picked !== null || workspace.tool !== 'look'),
    },
    { layer: 'drawing', component: MeasuredPlaces, shown: () => workspace.reason !== null },
  ];
});
