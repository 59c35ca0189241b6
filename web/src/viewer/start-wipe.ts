import { useShot } from '../stores/shot.ts';
import { useViewing } from '../stores/viewing.ts';

/** Puts an upright border through the middle of the plate, or takes it away. */
export function startWipe(): void {
  const viewing = useViewing();
  const facts = useShot().plate?.facts;
  viewing.wipe = viewing.wipe || !facts ? null : { x: facts.width / 2, y: facts.height / 2, angle: -Math.PI / 2 };
}
