import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** The picture in the viewer, for whatever else looks at its pixels: magnifiers, the readout. */
export const usePictureOnShow = defineStore('picture-on-show', () => {
  const picture = shallowRef<ImageBitmap | null>(null);
  const shows = ref<'plate' | 'result'>('plate');
  /** Codes 0…255 of the pixel that holds a plate point; null outside or when nothing is shown. */
  function codesAt(x: number, y: number, width: number, height: number): [number, number, number] | null {
    const bitmap = picture.value;
    if (!bitmap || x < 0 || y < 0 || x >= width || y >= height) return null;
    reader.clearRect(0, 0, 1, 1);
    reader.drawImage(bitmap, Math.floor((x * bitmap.width) / width), Math.floor((y * bitmap.height) / height), 1, 1, 0, 0, 1, 1);
    const [r, g, b] = reader.getImageData(0, 0, 1, 1).data;
    return [r!, g!, b!];
  }
  const reader = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
  return { picture, shows, codesAt };
});
