import { useWorkspace } from '../../stores/workspace.ts';
import { useBoard } from '../../stores/board.ts';
import BoardStage from '../../viewer/BoardStage.vue';
import ContentFlat from '../../viewer/ContentFlat.vue';
import MeshHandles from '../../viewer/MeshHandles.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import PlaceOnPlate from '../../viewer/PlaceOnPlate.vue';

registerOverlays('content', () => {
  const workspace = useWorkspace();
  const stage = useBoard();
  return [
    { layer: 'drawing', component: PlaceOnPlate, shown: () => workspace.placeOpen },
    { layer: 'drawing', component: MeshHandles, shown: () => workspace.meshOpen },
    { layer: 'over', component: ContentFlat, shown: () => workspace.placeOpen && workspace.flat },
    { layer: 'over', component: BoardStage, shown: () => stage.open && stage.board !== null },
  ];
});
