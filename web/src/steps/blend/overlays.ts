import { useBench } from '../../stores/bench.ts';
import MeasuredPlaces from '../../viewer/MeasuredPlaces.vue';
import OutlineOverlay from '../../viewer/OutlineOverlay.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';

registerOverlays('blend', () => {
  const bench = useBench();
  return [
    {
      layer: 'drawing',
      component: OutlineOverlay,
      props: () => ({ lists: ['cast', 'reflection'] }),
      shown: () => bench.showOutlines && (bench.picked !== null || bench.tool !== 'look'),
    },
    { layer: 'drawing', component: MeasuredPlaces, shown: () => bench.reason !== null },
  ];
});
