// @vitest-environment happy-dom
import { expect, test } from 'vitest';
import type { CheckRow, Media, MediaCorrections, PlateCheck } from '../../../../core/base/schemas/types.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { mountPanel, settled } from '../../test/mount-panel.ts';
import { job, openShot, type Given } from '../../test/open-shot.ts';
import { PLATE, SHOT } from '../../test/shot-parts.ts';
import PlatePanel from './PlatePanel.vue';

const ANSWERS = { 'GET /limits': { uploadBytes: 5e9, serverFolder: false }, [`GET /shots/${SHOT.id}/lenses`]: [] };

async function plate(given: Given = {}) {
  const opened = await openShot({ ...given, answers: { ...ANSWERS, ...given.answers } });
  return { ...opened, panel: await mountPanel(PlatePanel) };
}
const checkRow = (frame: number, change: Partial<CheckRow> = {}): CheckRow => ({
  frame,
  sharpness: 1,
  exposure: 0.5,
  noise: 1,
  blur: 0,
  blurAngle: null,
  repeats: null,
  cut: false,
  flash: false,
  change: 0.01,
  ...change,
});

test('without a plate one is asked for; what is in the project can be chosen at once', async () => {
  const { panel, api, kept } = await plate({
    plate: null,
    media: [PLATE],
    answers: { [`PUT /shots/${SHOT.id}/plate`]: () => ({ ...kept.shot, plate: PLATE }) },
  });
  expect(panel.text).toContain('Bring in a plate');
  await panel.press(/^bench\.mp4/);
  expect(api.last('PUT', `/shots/${SHOT.id}/plate`)).toEqual({ mediaId: PLATE.id });
});

test('what cannot be read says why and what to bring instead', async () => {
  const problem = 'notes.mp4 is not a picture or film that can be read (it is text). Bring in an MP4.';
  const { panel } = await plate({ plate: { ...PLATE, state: 'failed', facts: null, problem } });
  expect(panel.wrapper.get('[role=alert]').text()).toBe(problem);
});

test('an empty file, and one that is too large, are refused before they are sent', async () => {
  const { panel, api } = await plate({ answers: { 'GET /limits': { uploadBytes: 100, serverFolder: false } } });
  const input = panel.wrapper.get('[data-file-input]').element as HTMLInputElement;
  const give = async (file: File) => {
    // happy-dom's files know no folder.
    Object.defineProperty(file, 'webkitRelativePath', { value: '' });
    Object.defineProperty(input, 'files', { value: [file], configurable: true });
    input.dispatchEvent(new Event('change'));
    await settled();
  };
  await give(new File([], 'empty.mp4'));
  await give(new File([new Uint8Array(500)], 'long.mp4'));
  const words = useNotices().notices.map((one) => one.text);
  expect(words[0]).toBe('empty.mp4 is empty (0 bytes). Copy or export it again.');
  expect(words[1]).toMatch(/^long\.mp4 has 500 .*; the most that is taken is 100 /);
  expect(api.asked('POST', /media/)).toEqual([]);
});

test('a gap in numbered pictures is named and decided by the person', async () => {
  const gap: Media = {
    ...PLATE,
    state: 'failed',
    facts: null,
    problem: 'Of bed.####.png are missing 1017–1019.',
    problemCode: 'sequence-gap',
  };
  const { panel, api } = await plate({
    plate: gap,
    answers: { [`PUT /media/${PLATE.id}/corrections`]: { media: gap, job: job({ id: 8, kind: 'bring-in' }) } },
  });
  expect(panel.text).toContain('missing 1017–1019');
  await panel.press('Hold the last picture');
  expect(api.last('PUT', `/media/${PLATE.id}/corrections`)).toEqual({ corrections: { gaps: 'hold' } });
  expect(useJobs().jobs.get(8)?.kind).toBe('bring-in');
  await panel.press('Stop at the gap');
  expect(api.last('PUT', `/media/${PLATE.id}/corrections`)).toEqual({ corrections: { gaps: 'stop' } });
});

test('findings go to their frame; the proposed reference is taken by one press', async () => {
  const check: PlateCheck = {
    done: true,
    rows: [0, 1, 2, 3].map((frame) => checkRow(frame, { sharpness: frame === 3 ? 1 : 0.4 })),
    findings: [{ kind: 'repeat', frames: [2, 2], amount: 1 }],
    reference: null,
  };
  const { panel, doc } = await plate({
    plate: { ...PLATE, checked: true },
    answers: { [`GET /media/${PLATE.id}/check`]: check },
  });
  await panel.press('2 repeats 1');
  expect(usePlayhead().frame).toBe(2);
  await panel.press('use 3');
  expect(doc.document!.referenceFrame).toBe(3);
  expect(usePlayhead().frame).toBe(3);
  expect(panel.text).toContain('is the reference');
  // Findings outside in and out are not spoken of.
  await panel.type('In', '3');
  expect(doc.document!.range).toEqual([3, 3]);
  expect(panel.text).toContain('Nothing stands out.');
});

test('frames are numbered as the person says; the file’s own number is no edit', async () => {
  const { panel, shot, doc } = await plate();
  await panel.type('First frame is number', '1001');
  expect(shot.firstNumber).toBe(1001);
  await panel.type('Out', '1003');
  expect(doc.document!.range).toEqual([0, 2]);
  await panel.type('First frame is number', '0');
  expect(doc.document!.firstFrameNumber).toBeUndefined();
});

test('corrections are asked of the file, and taken back by “as the file says”; nonsense is put right', async () => {
  let corrections: MediaCorrections = { rotation: 90 };
  const { panel, api } = await plate({
    plate: { ...PLATE, corrections },
    answers: {
      [`PUT /media/${PLATE.id}/corrections`]: (body: { corrections: MediaCorrections }) => {
        corrections = body.corrections;
        return { media: { ...PLATE, corrections }, job: job({ id: 8, kind: 'bring-in' }) };
      },
    },
  });
  const sent = () => (api.last('PUT', /corrections/) as { corrections: MediaCorrections }).corrections;
  await panel.choose('Pixel shape', '2:1');
  expect(sent()).toEqual({ rotation: 90, pixelAspect: [2, 1] });
  await panel.choose('Turned', '');
  expect(sent()).toEqual({});
  await panel.choose('Rate', '30000/1001');
  expect(sent()).toMatchObject({ rate: [30000, 1001] });
  await panel.choose('Transfer', 'linear');
  expect(sent()).toMatchObject({ transfer: 'linear' });
  const before = api.asked('PUT', /corrections/).length;
  await panel.choose('Rate', 'quick');
  expect(useNotices().notices.at(-1)!.text).toMatch(/whole number or a fraction/);
  expect((panel.field('Rate').element as HTMLInputElement).value).toBe('25/1');
  await panel.choose('Pixel shape', 'wide');
  expect(useNotices().notices.at(-1)!.text).toMatch(/width:height/);
  expect(api.asked('PUT', /corrections/)).toHaveLength(before);
});

test('another version under the work: how it fits is said first, with an offset of the person’s; kept, nothing changes', async () => {
  const other = { ...PLATE, id: 12, name: 'half.mp4' };
  const fit = { mediaId: 12, offset: -3, found: true, score: 0.98, scale: 0.5, warnings: ['3 of 8 frames are not.'] };
  const { panel, api, kept, doc } = await plate({
    media: [PLATE, other],
    answers: {
      [`GET /shots/${SHOT.id}/plate-fit`]: (_: unknown, address: string) =>
        address.includes('offset=2') ? { ...fit, offset: 2, found: false, warnings: [] } : fit,
      [`PUT /shots/${SHOT.id}/plate/replace`]: () => ({ ...kept.shot, plate: other }),
    },
  });
  await panel.press(/^half\.mp4/);
  expect(panel.text).toContain('frame 3 is the first of the new one, which is 0.500 times the size');
  expect(panel.text).toContain('3 of 8 frames are not.');
  await panel.press('Keep the old one');
  expect(panel.has('Replace the plate')).toBe(false);
  await panel.press(/^half\.mp4/);
  await panel.type('Offset', '2');
  expect(panel.text).toContain('The pictures do not tell how the two belong together');
  doc.edit((draft) => {
    draft.look.soften = 1;
  });
  await panel.press('Replace the plate');
  // What was edited is saved first: the work moves along as it is now.
  await expect
    .poll(() => api.last('PUT', `/shots/${SHOT.id}/plate/replace`))
    .toEqual({ mediaId: 12, offset: 2, base: 2 });
});

test('a lens is begun by hand, typed, taken of another shot and dropped', async () => {
  const lens = { k1: 0.05, k2: 0, k3: 0, centre: [640, 360] as [number, number], focal: 1100 };
  const { panel, doc } = await plate({
    answers: { [`GET /shots/${SHOT.id}/lenses`]: [{ shotId: 9, shot: 'Wide take', lens }] },
  });
  await panel.press('By hand');
  expect(doc.document!.lens).toEqual({ k1: 0, k2: 0, k3: 0, centre: [640, 360], focal: 1408 });
  await panel.type('k1', '-0.02');
  await panel.type('Middle down', '350');
  expect(doc.document!.lens).toMatchObject({ k1: -0.02, centre: [640, 350] });
  expect(panel.text).toContain('As in Wide take');
  await panel.press('use it');
  expect(doc.document!.lens).toEqual(lens);
  expect(panel.text).not.toContain('As in Wide take');
  await panel.press('No lens');
  expect(doc.document!.lens).toBeUndefined();
});

test('what lines tell of the lens is offered with its bound; too little is said to be', async () => {
  const lens = { k1: -0.03, k2: 0, k3: 0, centre: [640, 360] as [number, number], focal: 1000 };
  const told = { lens, lines: 6, before: 0.9, rms: 0.1, bound: 0.4 };
  const { panel, doc, api } = await plate({ answers: { [`POST /shots/${SHOT.id}/lens`]: told } });
  await panel.press('By lines');
  expect(panel.text).toContain('From 6 lines: k1 -0.0300');
  expect(panel.text).toContain('lines 0.90 → 0.10 px off straight');
  await panel.press('use it');
  expect(doc.document!.lens).toEqual(lens);
  api.on(`POST /shots/${SHOT.id}/lens`, { ...told, lens: null, lines: 1 });
  await panel.press('By lines');
  expect(panel.text).toContain('1 line tells too little. Draw along what is straight');
});
