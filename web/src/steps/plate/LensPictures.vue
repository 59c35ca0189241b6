<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { sameShape } from '../../../../core/base/image/same-shape.ts';
import type { Media, Lens, LensFromBoards, LensFromMap } from '../../../../core/base/schemas/types.ts';
import { reachOf } from '../../../../core/motion/scene/lens-from-scene.ts';
import { call } from '../../api/client.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import DropArea from '../../components/DropArea.vue';
import type { Gathered } from '../../media/gather-files.ts';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';
import { useUploads } from '../../stores/uploads.ts';

/** A lens told by pictures of their own: chessboards that the same camera has filmed, or an ST map that somebody hands on. */
defineProps<{ same: (lens: Lens) => boolean }>();
const emit = defineEmits<{ take: [lens: Lens, focal: number | null] }>();
const KINDS = ['chessboards', 'ST map'] as const;
const DIRECTIONS = ['takes the lens out', 'puts it in'] as const;
const shot = useShot();
const notices = useNotices();
const uploads = useUploads();
const kind = ref<(typeof KINDS)[number]>('chessboards');
const takes = ref<(typeof DIRECTIONS)[number]>('takes the lens out');
const ticked = ref<number[]>([]);
const looking = ref(false);
const boards = ref<LensFromBoards | null>(null);
const map = ref<LensFromMap | null>(null);
const facts = computed(() => shot.plate!.facts!);
const reach = (lens: Lens) =>
  `moves the picture’s corners by ${reachOf(lens, facts.value.width, facts.value.height).toFixed(1)} px`;
/** Pictures of the plate's shape, the newest first; others cannot be of its lens. A map is one picture. */
const choices = computed(() =>
  shot.media
    .filter(
      (m) =>
        m.state !== 'failed' &&
        (!m.facts || sameShape(m.facts, facts.value)) &&
        (kind.value === 'chessboards' || (m.facts?.frames ?? 1) === 1),
    )
    .sort((a, b) => b.id - a.id),
);
const chosen = computed(() => choices.value.filter((m) => ticked.value.includes(m.id)));
const ready = computed(() => chosen.value.length > 0 && chosen.value.every((m) => m.state === 'ready'));
watch([() => shot.shot?.id, () => shot.plate?.id, kind], () => {
  ticked.value = [];
  boards.value = map.value = null;
});
const tick = (id: number) =>
  (ticked.value =
    kind.value === 'ST map'
      ? [id]
      : ticked.value.includes(id)
        ? ticked.value.filter((one) => one !== id)
        : [...ticked.value, id]);
const about = (m: Media) => (m.state !== 'ready' ? 'coming in' : m.facts!.frames > 1 ? `${m.facts!.frames} f` : '');
async function bringIn(files: Gathered[]): Promise<void> {
  for (const sent of await Promise.all(files.map((file) => uploads.send(file.name, file.blob))))
    if (sent && !ticked.value.includes(sent.id)) tick(sent.id);
}
const look = () =>
  notices.guard(async () => {
    looking.value = true;
    boards.value = map.value = null;
    try {
      if (kind.value === 'chessboards')
        boards.value = await call('POST', `/shots/${shot.shot!.id}/lens/boards`, 'lensBoards', {
          media: chosen.value.map((m) => m.id),
        });
      else
        map.value = await call('POST', `/shots/${shot.shot!.id}/lens/map`, 'lensMap', {
          media: chosen.value[0]!.id,
          takes: takes.value === DIRECTIONS[0] ? 'out' : 'in',
        });
    } finally {
      looking.value = false;
    }
  });
const seen = computed(() => boards.value?.views.filter((view) => view.crossings > 0).length ?? 0);
/** A focal length that is less sure than this is not taken for the shot's own. */
const SURE = 0.03;
const surely = computed(() => boards.value !== null && boards.value.focalSpread < SURE * boards.value.lens.focal);
</script>

<template>
  <div class="pictures" data-lens-pictures>
    <ChoiceRow label="Told by" :options="KINDS" :value="kind" @choose="kind = $event" />
    <p class="quiet">
      {{
        kind === 'chessboards'
          ? 'Stills or a clip by the same camera and mode: a flat board of any size, turned, and moved near to all corners.'
          : 'An EXR, or a picture of 16 bits: red tells the place across, green the place down.'
      }}
    </p>
    <ChoiceRow
      v-if="kind === 'ST map'"
      label="It takes the lens"
      :options="DIRECTIONS"
      :value="takes"
      @choose="takes = $event"
    />
    <ul v-if="choices.length > 0">
      <li v-for="m in choices" :key="m.id">
        <BFormRadio
          v-if="kind === 'ST map'"
          name="lens-picture"
          :model-value="ticked[0]"
          :value="m.id"
          @update:model-value="ticked = [m.id]"
          >{{ m.name }} <span class="quiet">{{ about(m) }}</span></BFormRadio
        ><AppCheck v-else :model-value="ticked.includes(m.id)" @update:model-value="tick(m.id)"
          >{{ m.name }} <span class="quiet">{{ about(m) }}</span></AppCheck
        >
      </li>
    </ul>
    <DropArea says="Drop them here." accept="image/*,video/*,.exr,.zip" stills @files="bringIn" />
    <BButton class="w-100" variant="outline-secondary" :disabled="!ready || looking" data-lens-look @click="look">{{
      looking ? 'Looking …' : kind === 'chessboards' ? 'Find the boards' : 'Read the map'
    }}</BButton>
    <template v-if="boards">
      <div class="row-line" data-lens-boards>
        <span
          >Boards in {{ seen }} of {{ boards.views.length }}: k1 {{ boards.lens.k1.toFixed(4) }}<br /><span
            class="quiet"
            >{{ reach(boards.lens) }}, ± {{ boards.bound.toFixed(1) }}; crossings {{ boards.rms.toFixed(2) }} px off;
            focal length {{ boards.lens.focal.toFixed(1) }} ± {{ boards.focalSpread.toFixed(1) }} px</span
          ></span
        ><button
          v-if="!same(boards.lens)"
          class="use-button"
          type="button"
          data-use-boards
          @click="emit('take', boards.lens, surely ? boards.lens.focal : null)"
        >
          use it
        </button>
      </div>
      <p v-if="boards.reach < 0.85 && boards.bound > 1" class="notice" data-lens-short>
        Boards reached {{ Math.round(100 * boards.reach) }} % of the way to the corners: farther out the lens is
        guessed. Hold one there.
      </p>
      <p v-if="!surely" class="notice">The focal length is not known: turn the board as well.</p>
    </template>
    <template v-if="map">
      <div class="row-line" data-lens-map>
        <span
          >The map: k1 {{ map.lens.k1.toFixed(4) }}<br /><span class="quiet"
            >{{ reach(map.lens) }}; {{ map.rms.toFixed(3) }} px between both, {{ map.worst.toFixed(2) }} at most</span
          ></span
        ><button
          v-if="!same(map.lens)"
          class="use-button"
          type="button"
          data-use-map
          @click="emit('take', map.lens, null)"
        >
          use it
        </button>
      </div>
      <p v-if="map.betterAs" class="notice">
        As a map that {{ map.betterAs === 'out' ? DIRECTIONS[0] : 'puts the lens in' }} it would be explained much
        better.
      </p>
    </template>
  </div>
</template>

<style scoped>
.pictures {
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 8px 10px;
  margin-top: 8px;
  display: grid;
  gap: 6px;
}
p {
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 140px;
  overflow-y: auto;
}
</style>
