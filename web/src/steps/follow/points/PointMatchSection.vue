<script setup lang="ts">
import { computed } from 'vue';
import type { CornerPoint } from '../../../../../core/base/schemas/types.ts';
import ChoiceRow from '../../../components/ChoiceRow.vue';
import NumberField from '../../../components/NumberField.vue';
import { usualBoxes } from '../../../../../core/motion/points/point-plan.ts';
import { useCornerPoints } from '../../../stores/corner-points.ts';
import { useDocument } from '../../../stores/document.ts';
import { useShot } from '../../../stores/shot.ts';
import { usePickedPoints } from './use-picked-points.ts';
import { sizeBox } from './point-edits.ts';

/** With what the picked points are matched, and how they may change from frame to frame. */
const shot = useShot();
const doc = useDocument();
const found = useCornerPoints();
const { list, names, only } = usePickedPoints();
const usual = computed(() => usualBoxes(shot.plate?.facts?.width ?? 1920));
const light = computed(() => (only.value ?? list.value[0])?.light);
const edit = (change: (point: CornerPoint) => void) =>
  doc.edit((draft) => {
    for (const point of draft.cornerPoints ?? []) if (names.value.includes(point.name)) change(point);
  });
</script>

<template>
  <section class="section rows">
    <header>
      <h2>How they are matched</h2>
      <span class="quiet">{{ names.length === found.points.length ? 'all' : names.length }}</span>
    </header>
    <div class="row-line">
      <span>With</span
      ><ChoiceRow
        label="Match"
        :options="['reference', 'previous', 'key']"
        :value="(only ?? list[0])!.match ?? 'reference'"
        @choose="
          (match) =>
            edit((p) => {
              p.match = match;
            })
        "
      />
    </div>
    <div class="row-line">
      <span>Pattern</span
      ><ChoiceRow
        label="Shape"
        :options="['plane', 'similarity', 'translation']"
        :value="(only ?? list[0])!.shape ?? 'plane'"
        @choose="
          (shape) =>
            edit((p) => {
              p.shape = shape;
            })
        "
      />
    </div>
    <div class="row-line">
      <span title="Light that changes is compensated where it helps, always, or never">Light</span
      ><ChoiceRow
        label="Light"
        :options="['by itself', 'always', 'never']"
        :value="light === undefined ? 'by itself' : light ? 'always' : 'never'"
        @choose="
          (choice) =>
            edit((p) => {
              if (choice === 'by itself') delete p.light;
              else p.light = choice === 'always';
            })
        "
      />
    </div>
    <NumberField
      label="Pattern box"
      unit="px"
      :value="((only ?? list[0])!.pattern ?? usual.pattern)[0]"
      :min="7"
      :max="400"
      :digits="0"
      @commit="(v) => doc.edit((draft) => names.forEach((name) => sizeBox(draft, name, 'pattern', [v, v])))"
    />
    <NumberField
      label="Search box"
      unit="px"
      :value="((only ?? list[0])!.search ?? usual.search)[0]"
      :min="7"
      :max="1200"
      :digits="0"
      @commit="(v) => doc.edit((draft) => names.forEach((name) => sizeBox(draft, name, 'search', [v, v])))"
    />
  </section>
</template>
