import { useBench } from '../../stores/bench.ts';
import { useBoard } from '../../stores/board.ts';
import BoardStage from '../../viewer/BoardStage.vue';
import ContentFlat from '../../viewer/ContentFlat.vue';
import MeshHandles from '../../viewer/MeshHandles.vue';
import { registerOverlays } from '../../viewer/overlay-registry.ts';
import PlaceOnPlate from '../../viewer/PlaceOnPlate.vue';

registerOverlays('content', () => {
  const bench = useBench();
  const desk = useBoard();
  return [
    { layer: 'drawing', component: PlaceOnPlate, shown: () => bench.placeOpen },
    { layer: 'drawing', component: MeshHandles, shown: () => bench.meshOpen },
    { layer: 'over', component: ContentFlat, shown: () => bench.placeOpen && bench.flat },
    { layer: 'over', component: BoardStage, shown: () => desk.open && desk.board !== null },
  ];
});
