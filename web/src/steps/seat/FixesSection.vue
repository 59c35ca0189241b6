<script setup lang="ts">
import { computed, ref } from 'vue';
import { CORNER_NAMES } from '../../../../core/base/geometry/quad.ts';
import type { MatchedCorner } from '../../../../core/base/schemas/types.ts';
import { CornerMoves } from '../../../../core/surface/seat/corrections.ts';
import { followAgain } from '../../../../core/surface/seat/seat-advice.ts';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { addFix, changeFix, copyFix, fixesByFrame, moveFix, removeFix } from './seat-edits.ts';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSeat } from '../../stores/seat.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { CORNER_SHAPES } from '../../viewer/corner-shapes.ts';

/** The keys on top of the track: by hand, by matching to the reference, or taken from a proposal. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const seat = useSeat();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const busy = ref(false);
const answers = ref<{ frame: number; corners: MatchedCorner[] } | null>(null);
const fixes = computed(() => fixesByFrame(doc.document!.corrections ?? []));
const here = computed(() => fixes.value.find((f) => f.frame === head.frame) ?? null);
const EASES = ['smooth', 'linear', 'hold', 'single'] as const;
const WHY = {
  'looks-different': 'looks different here',
  outside: 'outside the picture',
  'nothing-to-match': 'nothing to match',
} as const;
/** So many px from where the track has it, and many times its bound, a match is another place. */
const TOO_FAR = 3;
const TIMES_BOUND = 8;
const atReference = computed(() => head.frame === doc.document!.referenceFrame);
const unwise = computed(() => followAgain(shot.frames, doc.document!.corrections ?? []));

async function match(corners: number[]): Promise<void> {
  busy.value = true;
  await notices.guard(async () => {
    const frame = head.frame;
    const found = await seat.match(frame, corners);
    if (!found) return;
    const bounds = track.boundsAt(frame);
    const answered = found.map((m) =>
      m.refused === null && Math.hypot(m.dx, m.dy) > Math.max(TOO_FAR, TIMES_BOUND * (bounds?.[m.corner] ?? 0))
        ? { ...m, refused: 'looks-different' as const }
        : m,
    );
    answers.value = { frame, corners: answered };
    if (answered.some((m) => m.refused === null)) {
      doc.edit((draft) => {
        for (const m of answered) if (m.refused === null) addFix(draft, frame, m.corner, [m.dx, m.dy]);
      });
    }
  });
  busy.value = false;
}
/** A key of all corners as they are now, to hold them there. */
function keyHere(): void {
  doc.edit((draft) => {
    const moves = new CornerMoves(
      (draft.corrections ?? []).filter((c) => c.ease !== 'single'),
      draft.referenceFrame,
    );
    for (let corner = 0; corner < 4; corner++)
      if (moves.at(corner, head.frame)) addFix(draft, head.frame, corner, [0, 0]);
  });
}
const strengthOf = (keys: readonly { strength?: number }[]) => Math.round(100 * (keys[0]!.strength ?? 1));
</script>

<template>
  <section class="section">
    <header>
      <h2>Fixes</h2>
      <button
        class="use-button"
        type="button"
        :aria-pressed="workspace.withoutFixes"
        title="Y"
        data-without
        @click="workspace.withoutFixes = !workspace.withoutFixes"
      >
        {{ workspace.withoutFixes ? 'shown without them' : 'show without' }}
      </button>
    </header>
    <div class="choice mb-2" role="group" aria-label="Match to the reference">
      <button
        type="button"
        :disabled="busy || atReference"
        title="Moves the picked corner to where the reference's neighbourhood is found"
        data-match
        @click="match([workspace.corner])"
      >
        <svg width="14" height="14" viewBox="-11 -11 22 22"><path :d="CORNER_SHAPES[workspace.corner]" /></svg> match
        this corner
      </button>
      <button type="button" :disabled="busy || atReference" data-match-all @click="match([0, 1, 2, 3])">
        match all four
      </button>
    </div>
    <ul v-if="answers && answers.frame === head.frame" class="answers">
      <li v-for="m in answers.corners" :key="m.corner" :class="{ refused: m.refused }">
        <span>{{ CORNER_NAMES[m.corner] }}</span
        ><span v-if="m.refused">left alone: {{ WHY[m.refused] }} ({{ m.score.toFixed(2) }})</span
        ><span v-else
          >moved {{ Math.hypot(m.dx, m.dy).toFixed(2) }} px, ± {{ m.bound!.toFixed(2) }} ({{
            m.score.toFixed(2)
          }})</span
        >
      </li>
    </ul>
    <p v-if="fixes.length === 0" class="quiet mb-0">
      None yet. Choose “a fix here” on the first page and move a corner, or let keys be proposed above.
      <button class="use-button" type="button" :disabled="atReference" @click="keyHere">key this frame as it is</button>
    </p>
    <div
      v-for="f in fixes"
      :key="f.frame"
      class="fix"
      :class="{ here: f.frame === head.frame, muted: f.keys.every((k) => k.muted) }"
      :data-fix="f.frame"
    >
      <div class="row-line">
        <button type="button" class="use-button" @click="head.goTo(f.frame)">
          frame {{ f.frame + shot.firstNumber }}
        </button>
        <span class="quiet marks"
          ><svg v-for="k in f.keys" :key="k.corner" width="13" height="13" viewBox="-11 -11 22 22">
            <path :d="CORNER_SHAPES[k.corner]" /></svg
          >{{ Math.max(...f.keys.map((k) => Math.hypot(k.dx, k.dy))).toFixed(2) }} px</span
        >
        <span class="tools">
          <IconButton
            :icon="f.keys.every((k) => k.muted) ? 'volume-mute' : 'volume-up'"
            :label="`Mute the fix of frame ${f.frame}`"
            :title="f.keys.every((k) => k.muted) ? 'Let it count' : 'Mute it'"
            @click="
              doc.edit((d) =>
                changeFix(d, f.frame, (k) => {
                  if (f.keys.every((x) => x.muted)) delete k.muted;
                  else k.muted = true;
                }),
              )
            "
          />
          <IconButton
            icon="copy"
            :label="`Copy the fix of frame ${f.frame} here`"
            title="Copy it to this frame"
            :disabled="f.frame === head.frame"
            @click="doc.edit((d) => copyFix(d, f.frame, head.frame))"
          />
          <IconButton
            icon="arrow-left-right"
            :label="`Move the fix of frame ${f.frame} here`"
            title="Move it to this frame"
            :disabled="f.frame === head.frame"
            @click="doc.edit((d) => moveFix(d, f.frame, head.frame))"
          />
          <IconButton
            icon="x-lg"
            :label="`Remove the fix of frame ${f.frame}`"
            title="Remove it"
            @click="doc.edit((d) => removeFix(d, f.frame))"
          />
        </span>
      </div>
      <div v-if="here?.frame === f.frame" class="detail">
        <div class="choice" role="group" aria-label="How it goes on">
          <button
            v-for="ease in EASES"
            :key="ease"
            type="button"
            :aria-pressed="(f.keys[0]!.ease ?? 'smooth') === ease"
            @click="
              doc.edit((d) =>
                changeFix(d, f.frame, (k) => {
                  k.ease = ease;
                }),
              )
            "
          >
            {{ ease === 'single' ? 'here only' : ease === 'linear' ? 'straight' : ease }}
          </button>
        </div>
        <NumberField
          label="strength"
          :value="strengthOf(f.keys)"
          unit="%"
          :digits="0"
          :min="0"
          :max="100"
          @commit="
            doc.edit((d) =>
              changeFix(d, f.frame, (k) => {
                k.strength = $event / 100;
              }),
            )
          "
        />
      </div>
    </div>
    <p v-for="a in unwise" :key="a.text" class="notice mt-2 mb-0">{{ a.text }}</p>
  </section>
</template>

<style scoped>
.choice button {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 5px;
}
path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 2;
}
.answers {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
  font-size: 13px;
}
.answers li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.refused {
  color: var(--alarm);
}
.fix {
  border-top: 1px solid var(--line);
  padding: 3px 0;
  font-size: 13px;
}
.fix.here {
  background: var(--accent-soft);
  margin: 0 -8px;
  padding: 3px 8px;
}
.muted .marks {
  text-decoration: line-through;
}
.marks {
  white-space: nowrap;
  display: inline-flex;
  align-items: center;
  gap: 3px;
}
.tools {
  display: flex;
}
.tools .icon-button {
  padding: 4px 4px;
  font-size: 15px;
}
.fix .row-line {
  gap: 6px;
}
.detail {
  display: grid;
  gap: 4px;
  padding-bottom: 4px;
}
</style>
