import { clamp } from '../../base/geometry/clamp.ts';
import type { LookReason } from '../../base/schemas/types.ts';

/** Why a value is proposed: a sentence, how sure it is (0…1), and the frames it was measured on. */
export const reason = (says: string, certainty: number, frames: readonly number[] = []): LookReason => ({
  says,
  certainty: Number(clamp(certainty, 0, 1).toFixed(2)),
  ...(frames.length > 0 ? { frames: [...frames] } : {}),
});
