import { createHash } from 'node:crypto';
import type { RenderLayer, RenderPlan } from '../../core/base/schemas/types.ts';
import { framePartsOf } from '../../core/handoff/send/frame-parts.ts';
import type { PartStates } from '../database/finished-frames.ts';

/** Names frames by all that they depend on: the same name, the same picture. */
export class FrameKeys {
  private readonly partsOf: ReturnType<typeof framePartsOf>;
  /** Much of a look is the same object on every frame. */
  private readonly known = new WeakMap<object, string>();

  constructor(plan: RenderPlan) {
    this.partsOf = framePartsOf(plan);
  }

  of(frame: number, layer: RenderLayer): { key: string; parts: PartStates } {
    const named = [...this.partsOf(frame, layer)]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([part, value]) => [part, this.state(value)] as const);
    return {
      key: digest(JSON.stringify([layer, named])),
      parts: Object.fromEntries(named.map(([part, state]) => [part, state.slice(0, 12)])),
    };
  }

  private state(value: unknown): string {
    if (typeof value !== 'object' || value === null) return digest(JSON.stringify(value ?? null));
    let state = this.known.get(value);
    if (!state) {
      state = digest(JSON.stringify(value));
      this.known.set(value, state);
    }
    return state;
  }
}

const digest = (text: string): string => createHash('sha256').update(text).digest('hex');
