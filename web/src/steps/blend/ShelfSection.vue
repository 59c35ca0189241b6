<script setup lang="ts">
import { computed, ref } from 'vue';
import { SHIPPED_LOOKS } from '../../../../core/picture/look/shipped-looks.ts';
import AppCheck from '../../components/AppCheck.vue';
import IconButton from '../../components/IconButton.vue';
import NameDialog from '../../components/NameDialog.vue';
import { toggled } from '../../components/choice.ts';
import { useLookShelf } from '../../stores/look-shelf.ts';

/** Looks kept under a name, those that ship, and this one taken to other shots. */
const shelf = useLookShelf();
const naming = ref(false);
const chosen = ref<number[]>([]);
const measured = ref(true);
const STATES = {
  waiting: 'waits',
  copying: 'copying',
  measuring: 'measuring…',
  done: 'done',
  failed: 'not done',
} as const;
const stateOf = (id: number) => shelf.copies.find((copy) => copy.shot.id === id)?.state;
const targets = computed(() => shelf.others.filter((one) => chosen.value.includes(one.id)));
</script>

<template>
  <section class="section">
    <header>
      <h2>Kept looks</h2>
      <button
        class="use-button"
        type="button"
        title="For all shots of the project; without places, keys and light over time"
        @click="naming = true"
      >
        keep this one
      </button>
    </header>
    <ul class="looks">
      <li v-for="one in shelf.kept" :key="one.id">
        <span>{{ one.name }}</span
        ><button class="use-button" type="button" :aria-label="`Use ${one.name}`" @click="shelf.use(one.look)">
          use</button
        ><IconButton icon="trash" :label="`Delete ${one.name}`" @click="shelf.remove(one)" />
      </li>
      <li v-for="one in SHIPPED_LOOKS" :key="one.name">
        <span>{{ one.name }} <span class="quiet" title="Common practice, no source">to start from</span></span
        ><button class="use-button" type="button" :aria-label="`Use ${one.name}`" @click="shelf.use(one.look)">
          use
        </button>
      </li>
    </ul>
    <template v-if="shelf.others.length > 0">
      <p class="quiet mt-2 mb-1">This look to other shots</p>
      <AppCheck
        v-for="one in shelf.others"
        :key="one.id"
        :model-value="chosen.includes(one.id)"
        @update:model-value="chosen = toggled(chosen, one.id)"
        ><span class="name">{{ one.name }}</span
        ><span v-if="stateOf(one.id)" class="quiet" :data-copy="stateOf(one.id)">{{
          STATES[stateOf(one.id)!]
        }}</span></AppCheck
      >
      <AppCheck v-model="measured">Measure anew there what was measured here</AppCheck>
      <button
        class="btn btn-sm btn-outline-secondary w-100 mt-1"
        type="button"
        :disabled="targets.length === 0 || shelf.copying"
        @click="shelf.copyTo(targets, measured)"
      >
        {{ shelf.copying ? 'Copying…' : `Copy to ${targets.length} ${targets.length === 1 ? 'shot' : 'shots'}` }}
      </button>
    </template>
    <NameDialog :shown="naming" title="Keep this look" action="Keep" @close="naming = false" @done="shelf.keep" />
  </section>
</template>

<style scoped>
.looks {
  list-style: none;
  margin: 0;
  padding: 0;
}
.looks li {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 28px;
}
.looks li > span:first-child,
.name {
  flex: 1;
}
</style>
