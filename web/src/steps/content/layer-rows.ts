import type { MovingName } from './board-edits.ts';

/** Values of a layer that may have keys, as the panel shows them: a field for each part, `factor` times what is kept. */
export const LAYER_ROWS: readonly {
  name: MovingName;
  fields: readonly [label: string, unit: string, factor: number, step: number][];
}[] = [
  {
    name: 'position',
    fields: [
      ['Right', 'px', 1, 1],
      ['Down', 'px', 1, 1],
    ],
  },
  {
    name: 'anchor',
    fields: [
      ['Anchor', 'px', 1, 1],
      ['', 'px', 1, 1],
    ],
  },
  {
    name: 'scale',
    fields: [
      ['Wide', '%', 100, 1],
      ['High', '%', 100, 1],
    ],
  },
  { name: 'rotation', fields: [['Turn', '°', 1, 0.5]] },
  { name: 'opacity', fields: [['Opacity', '%', 100, 5]] },
  {
    name: 'crop',
    fields: [
      ['left', 'px', 1, 1],
      ['top', 'px', 1, 1],
      ['right', 'px', 1, 1],
      ['bottom', 'px', 1, 1],
    ],
  },
];
