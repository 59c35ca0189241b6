import type { FieldOrder, Rotation } from './facts.ts';

/** ffprobe tells the turn counter-clockwise, in degrees. */
export function rotationOf(sideData: readonly { rotation?: number }[]): Rotation {
  const turned = sideData.find((s) => s.rotation !== undefined)?.rotation ?? 0;
  const clockwise = (((-Math.round(turned / 90) * 90) % 360) + 360) % 360;
  return clockwise as Rotation;
}

export function fieldOrderOf(order: string | undefined): FieldOrder {
  switch (order) {
    case 'progressive':
      return 'progressive';
    case 'tt':
    case 'tb':
      return 'top-first';
    case 'bb':
    case 'bt':
      return 'bottom-first';
    default:
      return 'unknown';
  }
}

export function aspectOf(text: string | undefined): [number, number] {
  const [n, d] = (text ?? '').split(':').map(Number);
  return n && d && n > 0 && d > 0 && n / d < 20 && d / n < 20 ? [n, d] : [1, 1];
}

export function fraction(text: string | undefined): [number, number] | null {
  const match = /^(\d+)\/(\d+)$/.exec(text ?? '');
  const [n, d] = [Number(match?.[1] ?? 0), Number(match?.[2] ?? 0)];
  return n > 0 && d > 0 ? [n, d] : null;
}
