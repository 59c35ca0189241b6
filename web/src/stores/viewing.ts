import { clamp } from '../../../core/base/geometry/clamp.ts';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Look } from '../../../core/base/schemas/types.ts';

export type Channel = 'colour' | 'red' | 'green' | 'blue' | 'luminance';
export const CHANNELS: readonly Channel[] = ['colour', 'red', 'green', 'blue', 'luminance'];
export const MOST_STOPS = 8;

/** A border between the plate and the finished picture: a line through a plate point. */
export interface Wipe {
  x: number;
  y: number;
  /** Radians; the finished picture lies on the left of the direction (cos, sin). */
  angle: number;
}

/** How the finished picture is held against another: in turns, or by what differs. A border between them is the wipe. */
export type Compare = 'none' | 'flicker' | 'difference';
/** Differences are shown so many times as large. */
export const DIFFERENCE_GAIN = 8;

/** How the picture is looked at. Nothing here changes what is rendered, and nothing is saved. */
export const useViewing = defineStore('viewing', () => {
  /** Stops, ± MOST_STOPS. */
  const exposure = ref(0);
  const gamma = ref(1);
  const channel = ref<Channel>('colour');
  const wipe = ref<Wipe | null>(null);
  const compare = ref<Compare>('none');
  /** A look that was kept to hold the one of now against; else it is held against the plate. */
  const kept = shallowRef<Look | null>(null);
  const against = ref<'plate' | 'kept'>('plate');
  const againstWords = computed(() => (against.value === 'kept' ? 'the kept look' : 'the plate'));
  function keep(look: Look): void {
    kept.value = look;
    against.value = 'kept';
  }
  /** True when what is seen is not what is there. */
  const altered = computed(
    () => exposure.value !== 0 || gamma.value !== 1 || channel.value !== 'colour' || compare.value !== 'none',
  );
  const words = computed(() =>
    [
      exposure.value === 0 ? '' : `${signed(exposure.value)} EV`,
      gamma.value === 1 ? '' : `gamma ${gamma.value.toFixed(2)}`,
      channel.value === 'colour' ? '' : channel.value,
      compare.value === 'difference'
        ? `difference from ${againstWords.value}, ${DIFFERENCE_GAIN} times`
        : compare.value === 'flicker'
          ? `in turns with ${againstWords.value}`
          : '',
    ]
      .filter(Boolean)
      .join(', '),
  );

  function brighten(stops: number): void {
    exposure.value = clamp(exposure.value + stops, -MOST_STOPS, MOST_STOPS);
  }
  function reset(): void {
    exposure.value = 0;
    gamma.value = 1;
    channel.value = 'colour';
    compare.value = 'none';
  }
  function nextChannel(): void {
    channel.value = CHANNELS[(CHANNELS.indexOf(channel.value) + 1) % CHANNELS.length]!;
  }
  return {
    exposure,
    gamma,
    channel,
    wipe,
    compare,
    kept,
    against,
    againstWords,
    keep,
    altered,
    words,
    brighten,
    reset,
    nextChannel,
  };
});

function signed(stops: number): string {
  return `${stops > 0 ? '+' : stops < 0 ? '−' : '±'}${Math.abs(stops).toFixed(1)}`;
}
