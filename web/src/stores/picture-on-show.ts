import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** The picture in the viewer, for whatever else looks at its pixels: magnifiers, the readout. */
export const usePictureOnShow = defineStore('picture-on-show', () => {
  const picture = shallowRef<ImageBitmap | null>(null);
  const shows = ref<'plate' | 'result'>('plate');
  /** The plate beneath a finished picture, for the wipe and for reading values before and after. */
  const plain = shallowRef<ImageBitmap | null>(null);
  /** Codes 0…255 of the pixel that holds a plate point; null outside or when nothing is shown. */
  function codesAt(
    x: number,
    y: number,
    width: number,
    height: number,
    which: 'picture' | 'plain' = 'picture',
  ): [number, number, number] | null {
    const bitmap = which === 'plain' ? plain.value : picture.value;
    if (!bitmap || x < 0 || y < 0 || x >= width || y >= height) return null;
    reader.clearRect(0, 0, 1, 1);
    reader.drawImage(
      bitmap,
      Math.floor((x * bitmap.width) / width),
      Math.floor((y * bitmap.height) / height),
      1,
      1,
      0,
      0,
      1,
      1,
    );
    const [r, g, b] = reader.getImageData(0, 0, 1, 1).data;
    return [r!, g!, b!];
  }
  /** Mean 0…1 of a box of the picture on show. */
  function meanCodes(
    box: { x: number; y: number; width: number; height: number },
    size: { width: number; height: number },
  ): [number, number, number] | null {
    const bitmap = picture.value;
    if (!bitmap) return null;
    const scale = bitmap.width / size.width;
    const wide = Math.max(1, Math.round(box.width * scale));
    const high = Math.max(1, Math.round(box.height * scale));
    const context = new OffscreenCanvas(wide, high).getContext('2d')!;
    context.drawImage(bitmap, Math.round(box.x * scale), Math.round(box.y * scale), wide, high, 0, 0, wide, high);
    const { data } = context.getImageData(0, 0, wide, high);
    const sum: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c]! += data[i + c]!;
    return sum.map((s) => s / (wide * high * 255)) as [number, number, number];
  }
  const reader = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
  return { picture, plain, shows, codesAt, meanCodes };
});
