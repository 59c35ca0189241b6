import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';
import JoinGhost from '../../viewer/JoinGhost.vue';
import JoinRegion from '../../viewer/JoinRegion.vue';
import OutlineOverlay from '../../viewer/OutlineOverlay.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import SplitLine from '../../viewer/SplitLine.vue';

registerOverlays('send', () => {
  const workspace = useWorkspace();
  const doc = useDocument();
  const shown = () => workspace.showOutlines && doc.document?.loop !== undefined;
  return [
    { layer: 'drawing', component: JoinGhost, shown },
    { layer: 'drawing', component: OutlineOverlay, props: () => ({ lists: ['split'] }), shown },
    { layer: 'drawing', component: SplitLine, shown },
    { layer: 'drawing', component: JoinRegion, shown },
  ];
});
