<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { ExportChoices } from '../../../../core/base/schemas/types.ts';
import { CORNER_ORDERS } from '../../../../core/handoff/exchange/export-choices.ts';
import { type ExportFormat, isTextFormat } from '../../../../core/handoff/exchange/export-formats.ts';
import { fetchText } from '../../api/client.ts';
import { exportUrl } from '../../api/urls.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { choicesOf } from '../../components/choice.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';

/** The track as data for other people's programs, in their coordinates, with a look at the first lines before it is saved. */
const FORMATS: Readonly<Record<ExportFormat, string>> = {
  'corners-csv': 'corners, CSV',
  'corners-json': 'corners, JSON',
  'corners-text': 'corners, text between tabs',
  'homography-csv': 'homographies, CSV',
  'homography-json': 'homographies, JSON',
  'transform-csv': 'position, scale, rotation, CSV',
  'transform-json': 'position, scale, rotation, JSON',
  'css-html': 'page with CSS matrix3d keyframes',
  otio: 'timeline, OpenTimelineIO',
  gltf: 'camera and plane, glTF 2.0',
  'st-map': 'ST maps, EXR 32 bit',
  'shapes-json': 'shapes in front, JSON',
  'shapes-svg': 'shapes in front, SVG a frame',
};
/** Coordinates can be chosen in these. */
const CHOOSABLE: readonly ExportFormat[] = [
  'corners-csv',
  'corners-json',
  'corners-text',
  'homography-csv',
  'homography-json',
  'transform-csv',
  'transform-json',
];
const LINES = 7;
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const notices = useNotices();
const format = ref<ExportFormat>('corners-csv');
const ORDERS = (Object.keys(CORNER_ORDERS) as (keyof typeof CORNER_ORDERS)[]).map((value) => ({
  value,
  text: value.replaceAll('-', ' '),
}));
const choices = ref<ExportChoices>({});
const more = ref(false);
const lines = ref<string[]>([]);
const inverse = ref(false);
const overscan = ref(0);
const ready = computed(() => doc.document?.corners && track.rows.length > 0);
const homographies = computed(() => format.value.startsWith('homography'));
const corners = computed(() => format.value.startsWith('corners'));
const shutter = computed(() => {
  const blur = doc.document?.look.motionBlur;
  const angle = blur?.shutter;
  const phase = blur?.phase ?? 0;
  return typeof angle === 'number' && angle > 0 && typeof phase === 'number' ? { angle, phase } : null;
});
function set<K extends keyof ExportChoices>(name: K, value: ExportChoices[K] | undefined): void {
  const next = { ...choices.value };
  if (value === undefined) delete next[name];
  else next[name] = value;
  choices.value = next;
}
/** With a lens, data can be for the plate as it would be without. */
const pictures = computed(() => ['plate', 'steadied', ...(doc.document?.lens ? ['no lens' as const] : [])] as const);
const pictureNamed = computed(() =>
  choices.value.picture === 'straight' ? 'no lens' : (choices.value.picture ?? 'plate'),
);
const query = computed(() => {
  const asked = new URLSearchParams();
  const { shutter: _shutter, corrections, ...plain } = choices.value;
  if (CHOOSABLE.includes(format.value)) {
    for (const [name, value] of Object.entries(plain)) asked.set(name, String(value));
    if (corrections !== undefined) asked.set('corrections', corrections ? 'yes' : 'no');
    if (shutter.value) asked.set('shutter', `${shutter.value.angle},${shutter.value.phase}`);
  }
  if (format.value === 'st-map') {
    if (choices.value.y) asked.set('y', choices.value.y);
    if (choices.value.picture === 'straight') asked.set('picture', 'straight');
    if (inverse.value) asked.set('inverse', 'yes');
    if (overscan.value > 0) asked.set('overscan', String(overscan.value));
  }
  return asked.size > 0 ? `?${asked.toString()}` : '';
});
const url = computed(() => `${exportUrl(shot.shot!.id, format.value)}${query.value}`);
let asked = 0;
watch([url, () => saving.state, () => track.byFrame.size, ready], () => void look(), { immediate: true });
async function look(): Promise<void> {
  const mine = ++asked;
  lines.value = [];
  if (!ready.value || !isTextFormat(format.value) || saving.state !== 'saved') return;
  try {
    const text = await fetchText(url.value);
    if (mine === asked)
      lines.value = text
        .split('\n', LINES + 1)
        .slice(0, LINES)
        .map((line) => (line.length > 160 ? `${line.slice(0, 160)}…` : line));
  } catch (error) {
    if (mine === asked) lines.value = [(error as Error).message];
  }
}
const copied = ref(false);
const copy = () =>
  notices.guard(async () => {
    await navigator.clipboard.writeText(await fetchText(url.value));
    copied.value = true;
    setTimeout(() => (copied.value = false), 1500);
  });
</script>

<template>
  <section class="section">
    <header>
      <h2>Track data</h2>
      <button
        v-if="ready && (CHOOSABLE.includes(format) || format === 'st-map')"
        class="use-button"
        type="button"
        :aria-expanded="more"
        @click="more = !more"
      >
        {{ more ? 'fewer settings' : 'settings' }}
      </button>
    </header>
    <p v-if="!ready" class="quiet m-0">Ready as soon as the shot is followed and the corners are set.</p>
    <div v-else class="rows">
      <label class="row-line"
        ><span>As</span
        ><AppSelect label="Data format" :value="format" :options="choicesOf(FORMATS)" @choose="format = $event"
      /></label>
      <template v-if="more && CHOOSABLE.includes(format)">
        <div class="row-line">
          <span>First frame is</span
          ><ChoiceRow
            label="First frame is"
            :options="['0', '1', 'plate'] as const"
            :value="String(choices.frameBase ?? 0) as '0'"
            @choose="set('frameBase', ($event as string) === 'plate' ? 'plate' : (Number($event) as 0 | 1))"
          />
        </div>
        <div class="row-line">
          <span>y</span
          ><ChoiceRow
            label="y"
            :options="['down', 'up'] as const"
            :value="choices.y ?? 'down'"
            @choose="set('y', $event)"
          />
        </div>
        <div class="row-line">
          <span>Of</span
          ><ChoiceRow
            label="Of"
            :options="pictures"
            :value="pictureNamed"
            @choose="set('picture', $event === 'no lens' ? 'straight' : $event)"
          />
        </div>
        <div class="row-line">
          <span>In</span
          ><ChoiceRow
            label="In"
            :options="['pixels', 'normalised'] as const"
            :value="choices.units ?? 'pixels'"
            @choose="set('units', $event)"
          />
        </div>
        <div v-if="choices.units !== 'normalised'" class="row-line">
          <span>First pixel’s middle</span
          ><ChoiceRow
            label="First pixel’s middle"
            :options="['0.5', '0'] as const"
            :value="choices.pixelCentre === 'integer' ? '0' : '0.5'"
            @choose="set('pixelCentre', $event === '0' ? 'integer' : 'half')"
          />
        </div>
        <label v-if="corners" class="row-line"
          ><span>Corners go</span
          ><AppSelect
            label="Corners go"
            :value="choices.order ?? 'clockwise'"
            :options="ORDERS"
            :title="CORNER_ORDERS[choices.order ?? 'clockwise'].join(', ')"
            @choose="set('order', $event)"
        /></label>
        <div v-if="homographies" class="row-line">
          <span>From</span
          ><ChoiceRow
            label="From"
            :options="['reference', 'surface'] as const"
            :value="choices.from ?? 'reference'"
            @choose="set('from', $event)"
          />
        </div>
        <div class="row-line">
          <span>Lock and fixes</span
          ><ChoiceRow
            label="Lock and fixes"
            :options="['with', 'without'] as const"
            :value="(choices.corrections ?? !homographies) ? 'with' : 'without'"
            @choose="set('corrections', $event === 'with')"
          />
        </div>
        <NumberField
          label="Decimals"
          :value="choices.decimals ?? 6"
          :min="0"
          :max="12"
          :digits="0"
          @commit="(v) => set('decimals', Math.round(v))"
        />
        <p v-if="shutter" class="quiet m-0">The shutter, {{ shutter.angle }}°, is written beside.</p>
      </template>
      <template v-if="more && format === 'st-map'">
        <div v-if="doc.document?.lens" class="row-line">
          <span>Of</span
          ><ChoiceRow
            label="Of"
            :options="['plate', 'no lens'] as const"
            :value="choices.picture === 'straight' ? 'no lens' : 'plate'"
            @choose="set('picture', $event === 'no lens' ? 'straight' : 'plate')"
          />
        </div>
        <div class="row-line">
          <span>t grows</span
          ><ChoiceRow
            label="t grows"
            :options="['down', 'up'] as const"
            :value="choices.y ?? 'down'"
            @choose="set('y', $event)"
          />
        </div>
        <NumberField
          label="Overscan"
          unit="px"
          :value="overscan"
          :min="0"
          :max="4096"
          :digits="0"
          @commit="(v) => (overscan = Math.round(v))"
        />
        <BFormCheckbox v-model="inverse">inverse: from content to plate</BFormCheckbox>
      </template>
      <!-- Its room is kept from the first, so that what lies below does not move under the pointer when the lines come. -->
      <pre v-if="isTextFormat(format)" class="first-lines" tabindex="0" aria-label="First lines" data-first-lines>{{
        lines.join('\n')
      }}</pre>
      <div class="row-line">
        <a class="btn btn-outline-secondary text-start flex-grow-1" :href="url" download :data-export="format"
          ><i class="bi bi-download" /> Save {{ FORMATS[format].split(',')[0] }}</a
        >
        <button
          v-if="isTextFormat(format)"
          class="btn btn-outline-secondary"
          type="button"
          title="Copy all of it as text"
          @click="copy"
        >
          <i class="bi" :class="copied ? 'bi-check2' : 'bi-clipboard'" /> {{ copied ? 'copied' : 'Copy' }}
        </button>
      </div>
    </div>
  </section>
</template>

<style scoped>
select {
  max-width: 190px;
}
.first-lines {
  margin: 0;
  padding: 6px 8px;
  border: 1px solid var(--line);
  background: var(--white);
  font-size: 13px;
  line-height: 1.35;
  overflow-x: auto;
  height: 148px;
}
</style>
