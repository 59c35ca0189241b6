<script setup lang="ts">
import type { Framing, Media, Variant } from '../../../core/base/schemas/types.ts';
import { fileUrl } from '../api/urls.ts';
import AppSelect from '../components/AppSelect.vue';
import IconButton from '../components/IconButton.vue';
import NumberField from '../components/NumberField.vue';
import TextField from '../components/TextField.vue';
import { jobWords } from '../stores/job-words.ts';

/** One of a shot's contents: what it is, how it lies, and how far its render is. */
defineProps<{
  row: Variant;
  media: readonly Media[];
  /** The number that the shot's first frame bears. */
  first: number;
}>();
const emit = defineEmits<{
  /** Asked of the row as it is when its turn comes. */
  change: [what: (row: Variant) => Partial<Pick<Variant, 'name' | 'mediaId' | 'framing'>>];
  render: [];
  remove: [];
}>();
const FITS = ['stretch', 'fit', 'fill'] as const;
const framed = (framing: (now: Framing) => Framing) =>
  emit('change', ({ framing: now }) => ({ framing: { ...now, ...framing(now) } }));
const chosen = (mediaId: number) => emit('change', () => ({ mediaId: mediaId || null }));
const fitted = (fit: (typeof FITS)[number] | '') => framed(() => ({ fit: fit || 'stretch' }));
const WORDS = jobWords('rendering');
</script>

<template>
  <tr :data-variant="row.name">
    <td>
      <TextField
        :value="row.name"
        :label="`Name of ${row.name}`"
        :maxlength="80"
        @commit="(name) => emit('change', () => ({ name }))"
      /><span v-if="row.slot" class="quiet"><i class="bi bi-link-45deg" /> filled by a link</span>
    </td>
    <td>
      <AppSelect
        :label="`Content of ${row.name}`"
        :value="row.mediaId ?? 0"
        :options="[{ value: 0, text: 'nothing yet' }, ...media.map(({ id: value, name: text }) => ({ value, text }))]"
        @choose="chosen"
      />
    </td>
    <td>
      <AppSelect
        :label="`How ${row.name} lies`"
        :value="row.framing.fit ?? ''"
        :options="row.framing.fit ? FITS : [{ value: '', text: 'as the shot’s' }, ...FITS]"
        @choose="fitted"
      />
    </td>
    <td class="short">
      <NumberField
        hide-label
        :label="`Scale of ${row.name}`"
        :value="Math.round(100 * (row.framing.place?.scale?.[0] ?? 1))"
        :min="10"
        :max="1000"
        :digits="0"
        @commit="(v) => framed((now) => ({ place: { ...now.place, scale: [v / 100, v / 100] } }))"
      />
    </td>
    <td class="short">
      <NumberField
        hide-label
        :label="`First frame of ${row.name}`"
        :value="(row.framing.time?.start ?? 0) + first"
        :digits="0"
        @commit="(v) => framed((now) => ({ time: { ...now.time, start: Math.round(v) - first } }))"
      />
    </td>
    <td class="state" :data-state="row.render?.state ?? 'none'">
      <template v-if="row.render"
        ><a
          v-for="file in row.render.state === 'done' ? row.render.files : []"
          :key="file.name"
          :href="fileUrl(row.render.jobId, file.name)"
          download
          ><i class="bi bi-download" /> {{ file.name }}</a
        ><span v-if="row.render.state !== 'done'"
          >{{ WORDS[row.render.state] }} {{ row.render.done }} of {{ row.render.total }}</span
        ><span v-if="row.render.problem" class="d-block quiet">{{ row.render.problem }}</span></template
      >
      <span v-else class="quiet">{{ row.mediaId === null ? 'no content yet' : 'not rendered' }}</span>
    </td>
    <td class="tools">
      <IconButton
        icon="play-fill"
        :label="`Render ${row.name}`"
        :disabled="row.mediaId === null"
        title="Render this row"
        @click="emit('render')"
      /><IconButton icon="trash" :label="`Take ${row.name} out`" title="Take the row out" @click="emit('remove')" />
    </td>
  </tr>
</template>

<style scoped>
tbody tr {
  border-top: 1px solid var(--line);
}
td {
  padding: 5px 8px 5px 0;
  vertical-align: top;
}
.short {
  width: 86px;
}
.state {
  min-width: 190px;
  padding-top: 9px;
  overflow-wrap: anywhere;
}
.tools {
  width: 74px;
  white-space: nowrap;
  text-align: right;
  padding-top: 8px;
}
td .form-select {
  width: 100%;
}
</style>
