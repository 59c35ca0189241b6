import { tinykeys } from 'tinykeys';
import { onBeforeUnmount, onMounted } from 'vue';
import { useRouter } from 'vue-router';
import { nextView } from '../preview/compose-request.ts';
import { STEPS } from '../rail/steps.ts';
import { removeOutline } from '../steps/follow/remove-outline.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { movePart } from '../steps/seat/move-part.ts';
import { moveQuad } from '../steps/seat/seat-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { nextProblem, problemFrames } from '../ledger/problem-frames.ts';
import { setRange } from '../steps/plate/set-range.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { useViewing } from '../stores/viewing.ts';
import { startWipe } from '../viewer/start-wipe.ts';

/** The keys of the bench, listed for people in shortcuts.ts. Silent while somebody types or a dialog is open. */
export function useWorkspaceKeys(showSheet: () => void): void {
  const shot = useShot();
  const doc = useDocument();
  const track = useTrack();
  const placed = usePlacedCorners();
  const head = usePlayhead();
  const workspace = useWorkspace();
  const router = useRouter();
  const viewing = useViewing();

  const free = (act: (event: KeyboardEvent) => void) => (event: KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (
      target.closest('input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable]') ||
      document.querySelector('.modal.show')
    )
      return;
    event.preventDefault();
    act(event);
  };
  const onStep = (step: string, act: () => void) => free(() => workspace.step === step && shot.plate && act());
  const zoom = (factor: number) => free(() => (workspace.viewRequest = { kind: 'zoom', factor }));
  const nudge = (event: KeyboardEvent) => {
    const by = nudgeOf(event);
    const quad = workspace.step === 'seat' ? placed.cornersAt(head.frame) : null;
    if (by && quad) moveQuad(head.frame, movePart(quad, workspace.part, by), 'edit');
  };
  const arrows = ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'].flatMap((key) =>
    ['', 'Shift+', 'Alt+'].map((modifier) => [`${modifier}${key}`, free(nudge)] as const),
  );

  function goToProblem(direction: 1 | -1): void {
    const next = nextProblem(problemFrames(shot.check, track.rows), head.frame, direction);
    if (next !== null) head.goTo(next);
  }

  const inTurns = free(
    () => doc.document?.contentId && (viewing.compare = viewing.compare === 'flicker' ? 'none' : 'flicker'),
  );

  let stop: (() => void) | null = null;
  onMounted(() => {
    stop = tinykeys(window, {
      Space: (event) => {
        // On a button the space bar presses it.
        if (!(event.target as HTMLElement).closest('button, a, input')) free(() => head.toggle())(event);
      },
      ',': free(() => head.step(-1)),
      '.': free(() => head.step(1)),
      'Shift+<': free(() => head.step(-10)),
      '<': free(() => head.step(-10)),
      'Shift+>': free(() => head.step(10)),
      r: free(() => doc.document && head.goTo(doc.document.referenceFrame)),
      w: free(() => {
        const worst = track.worstFrame();
        if (worst !== null) head.goTo(worst);
      }),
      f: free(() => (workspace.viewRequest = { kind: 'fit' })),
      '1': free(() => (workspace.viewRequest = { kind: 'actual' })),
      'Shift+Equal': zoom(1.25),
      Equal: zoom(1.25),
      NumpadAdd: zoom(1.25),
      Minus: zoom(0.8),
      NumpadSubtract: zoom(0.8),
      o: free(() => (workspace.showOutlines = !workspace.showOutlines)),
      v: free(() => (workspace.showResult = !workspace.showResult)),
      '[': free(() => viewing.brighten(-0.5)),
      ']': free(() => viewing.brighten(0.5)),
      '0': free(() => viewing.reset()),
      h: free(() => viewing.nextChannel()),
      'Shift+b': inTurns,
      b: free(() => startWipe()),
      m: free(() => (workspace.tool = workspace.tool === 'measure' ? 'look' : 'measure')),
      g: free(() => shot.plate && (workspace.steadied = !workspace.steadied)),
      e: free(() => (head.everyFrame = !head.everyFrame)),
      n: free(() => goToProblem(1)),
      'Shift+n': free(() => goToProblem(-1)),
      i: free(() => shot.plate && setRange(head.frame, shot.range[1])),
      u: free(() => shot.plate && setRange(shot.range[0], head.frame)),
      d: free(() => {
        if (shot.plate && workspace.step === 'follow') workspace.tool = 'draw-region';
        if (shot.plate && workspace.step === 'front') workspace.tool = 'draw-shape';
      }),
      k: onStep('follow', () => (workspace.tool = 'draw-keep-out')),
      p: onStep('seat', () => (workspace.tool = 'place-corners')),
      c: onStep('seat', () => {
        workspace.corner = (workspace.corner + 1) % 4;
        workspace.part = workspace.corner;
      }),
      s: onStep('seat', () => (workspace.part = workspace.part >= 4 && workspace.part < 7 ? workspace.part + 1 : 4)),
      a: onStep('seat', () => (workspace.part = 8)),
      x: onStep('seat', () => (workspace.seatMode = workspace.seatMode === 'here' ? 'everywhere' : 'here')),
      y: onStep('seat', () => (workspace.withoutFixes = !workspace.withoutFixes)),
      l: onStep('seat', () => (workspace.flat = !workspace.flat)),
      t: onStep('seat', () =>
        doc.edit((d) => {
          d.testCard = !d.testCard;
        }),
      ),
      Delete: free(
        () =>
          ['follow', 'front', 'send'].includes(workspace.step) &&
          workspace.picked &&
          removeOutline(workspace.picked.list, workspace.picked.index),
      ),
      j: onStep('front', () => (workspace.frontView = nextView(workspace.frontView))),
      '$mod+z': free(() => doc.undo()),
      '$mod+Shift+z': free(() => doc.redo()),
      '$mod+y': free(() => doc.redo()),
      'Shift+?': free(showSheet),
      '?': free(showSheet),
      ...Object.fromEntries(
        STEPS.map((step, i) => [
          `Alt+Digit${i + 1}`,
          free(() => void router.push(`/shots/${shot.shot?.id}/${step.name}`)),
        ]),
      ),
      ...Object.fromEntries(arrows),
    });
  });
  onBeforeUnmount(() => stop?.());
}
