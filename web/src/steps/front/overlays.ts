import { useWorkspace } from '../../stores/workspace.ts';
import FixSource from '../../viewer/FixSource.vue';
import MeasuredPlaces from '../../viewer/MeasuredPlaces.vue';
import OutlineOverlay from '../../viewer/OutlineOverlay.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import ShapeEdges from '../../viewer/ShapeEdges.vue';

registerOverlays('front', () => {
  const workspace = useWorkspace();
  const shown = () => workspace.showOutlines;
  /** Outlines of fixes are shown where one is at them. */
  const paintsOut = () =>
    workspace.picked?.list === 'fixes' || workspace.frontView === 'cleaned' || workspace.frontView === 'plate';
  return [
    { layer: 'drawing', component: ShapeEdges, shown },
    {
      layer: 'drawing',
      component: OutlineOverlay,
      props: () => ({ lists: paintsOut() ? ['shapes', 'areas', 'fixes'] : ['shapes', 'areas'] }),
      shown,
    },
    { layer: 'drawing', component: FixSource, shown },
    { layer: 'drawing', component: MeasuredPlaces, shown: () => workspace.reason !== null },
  ];
});
