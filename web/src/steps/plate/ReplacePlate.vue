<script setup lang="ts">
import { ref, watch } from 'vue';
import type { PlateFit } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import NumberField from '../../components/NumberField.vue';
import { useNotices } from '../../stores/notices.ts';
import { useShot } from '../../stores/shot.ts';

/** Another version of the plate under the work done: how it fits is said before anything changes. */
const props = defineProps<{ mediaId: number }>();
const emit = defineEmits<{ close: [] }>();
const shot = useShot();
const notices = useNotices();
const fit = ref<PlateFit | null>(null);
const working = ref(false);

async function ask(offset?: number): Promise<void> {
  working.value = true;
  fit.value =
    (await notices.guard(() =>
      call(
        'GET',
        `/shots/${shot.shot!.id}/plate-fit?media=${props.mediaId}${offset === undefined ? '' : `&offset=${offset}`}`,
        'replaceQuery',
      ),
    )) ?? null;
  working.value = false;
  if (!fit.value) emit('close');
}
watch(
  () => props.mediaId,
  () => void ask(),
  { immediate: true },
);
const name = () => shot.media.find((m) => m.id === props.mediaId)?.name ?? '';
async function replace(): Promise<void> {
  if (!fit.value) return;
  const { mediaId, offset } = fit.value;
  await notices.guard(() => shot.replacePlate(mediaId, offset));
  emit('close');
}
</script>

<template>
  <section class="section" data-replace>
    <header>
      <h2>Take {{ name() }} instead</h2>
    </header>
    <p v-if="working && !fit" class="quiet mb-0">Comparing the pictures of both.</p>
    <template v-if="fit">
      <p>
        {{
          fit.found
            ? `Found from the pictures (likeness ${fit.score.toFixed(2)}):`
            : 'The pictures do not tell how the two belong together; check the offset:'
        }}
        {{
          fit.offset >= 0
            ? `frame ${shot.firstNumber} is frame ${fit.offset} of the new one`
            : `frame ${shot.firstNumber - fit.offset} is the first of the new one`
        }}<template v-if="fit.scale !== 1"
          >, which is {{ fit.scale.toFixed(3) }} times the size; the work is scaled with it</template
        >.
      </p>
      <NumberField label="Offset" unit="f" :digits="0" :value="fit.offset" @commit="(v) => ask(Math.round(v))" />
      <p v-for="warning in fit.warnings" :key="warning" class="notice mt-2 mb-0">{{ warning }}</p>
      <div class="d-flex gap-2 mt-3">
        <BButton variant="primary" :disabled="working" @click="replace">Replace the plate</BButton>
        <BButton variant="outline-secondary" @click="emit('close')">Keep the old one</BButton>
      </div>
    </template>
  </section>
</template>
