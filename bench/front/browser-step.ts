/** Runs in the browser: finishes frames as the viewer's preview does, and tells how long each took. Everything it needs is fetched from beside the page. */
import { FONT_PARTS, FontSet, fontFile } from '../../core/picture/board/fonts.ts';
import { compiledComposite } from '../../core/base/kernels/compiled-composite.ts';
import { useCompositeKernels } from '../../core/base/kernels/composite-kernels.ts';
import { SpeedRun, type SpeedShot } from './speed-shot.ts';

const bytesOf = async (name: string) => (await fetch(name)).arrayBuffer();

async function run(rounds: number): Promise<number[]> {
  const told = (await (await fetch('shot.json')).json()) as Omit<SpeedShot, 'plates' | 'page' | 'font'>;
  const frames = told.corners.length;
  const size = 3 * told.width * told.height;
  const all = new Uint8Array(await bytesOf('plates'));
  const sizes = (await (await fetch('page.json')).json()) as { width: number; height: number };
  const module = await WebAssembly.compile(await bytesOf('composite.wasm'));
  useCompositeKernels(
    compiledComposite((pages) => {
      const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
      return {
        exports: new WebAssembly.Instance(module, { env: { memory, abort: () => undefined } }).exports,
        buffer: memory.buffer,
      };
    }),
  );
  const shot = new SpeedRun({
    ...told,
    plates: Array.from({ length: frames }, (_, i) => all.slice(i * size, (i + 1) * size)),
    page: { ...sizes, data: new Uint8Array(await bytesOf('page')), peak: 255 },
    font: async (family, weight) =>
      new FontSet(await Promise.all(FONT_PARTS.map((part) => bytesOf(fontFile(family, weight, part))))),
  });
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    for (let frame = 0; frame < frames; frame++) {
      const started = performance.now();
      const picture = shot.compose(frame, await shot.surface(frame, 'quick'), 'quick');
      const rgba = new Uint8ClampedArray(picture.width * picture.height * 4);
      for (let i = 0, at = 0; at < rgba.length; i += 3, at += 4) {
        rgba[at] = picture.data[i]!;
        rgba[at + 1] = picture.data[i + 1]!;
        rgba[at + 2] = picture.data[i + 2]!;
        rgba[at + 3] = 255;
      }
      (await createImageBitmap(new ImageData(rgba, picture.width, picture.height))).close();
      if (round > 0) times.push(performance.now() - started);
    }
  }
  return times;
}

(globalThis as { runSteps?: typeof run }).runSteps = run;
