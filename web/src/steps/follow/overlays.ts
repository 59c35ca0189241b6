import { useWorkspace } from '../../stores/workspace.ts';
import { useDisagreement } from '../../stores/disagreement.ts';
import DisagreementOverlay from '../../viewer/DisagreementOverlay.vue';
import KeyHandles from '../../viewer/KeyHandles.vue';
import OutlineOverlay from '../../viewer/OutlineOverlay.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import PointBoxes from '../../viewer/PointBoxes.vue';
import ScenePlaneHandles from '../../viewer/ScenePlaneHandles.vue';
import ScenePoints from '../../viewer/ScenePoints.vue';
import SurfaceOverlay from '../../viewer/SurfaceOverlay.vue';

registerOverlays('follow', () => {
  const workspace = useWorkspace();
  const disagreement = useDisagreement();
  const onPage = (page: typeof workspace.followPage) => () => workspace.showOutlines && workspace.followPage === page;
  return [
    { layer: 'beneath', component: DisagreementOverlay, shown: () => disagreement.view !== 'off' },
    {
      layer: 'drawing',
      component: OutlineOverlay,
      props: () => ({ lists: ['regions', 'keepOut'] }),
      shown: onPage('region'),
    },
    { layer: 'drawing', component: OutlineOverlay, props: () => ({ lists: ['keepOut'] }), shown: onPage('scene') },
    { layer: 'drawing', component: ScenePoints, shown: onPage('scene') },
    { layer: 'drawing', component: ScenePlaneHandles, shown: onPage('scene') },
    { layer: 'drawing', component: SurfaceOverlay, shown: () => workspace.showOutlines },
    { layer: 'drawing', component: PointBoxes, shown: onPage('points') },
    { layer: 'drawing', component: KeyHandles, shown: onPage('keys') },
  ];
});
