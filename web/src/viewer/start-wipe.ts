import type { useShot } from '../stores/shot.ts';
import type { useViewing } from '../stores/viewing.ts';

/** Puts an upright border through the middle of the plate, or takes it away. */
export function startWipe(shot: ReturnType<typeof useShot>, viewing: ReturnType<typeof useViewing>): void {
  const facts = shot.plate?.facts;
  viewing.wipe = viewing.wipe || !facts ? null : { x: facts.width / 2, y: facts.height / 2, angle: -Math.PI / 2 };
}
