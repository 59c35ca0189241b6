import type { Shot } from '../scene/shot.ts';
import { blurBursts } from './blur-bursts.ts';
import { clean } from './clean.ts';
import { covered } from './covered.ts';
import { darkReflection } from './dark-reflection.ts';
import { distant } from './distant.ts';
import { glove } from './glove.ts';
import { greenReflection } from './green-reflection.ts';
import { hiddenCorner } from './hidden-corner.ts';
import { leavesFrame } from './leaves-frame.ts';
import { lightsUp } from './lights-up.ts';
import { lockedOff } from './locked-off.ts';
import { orbitLaptop } from './orbit-laptop.ts';
import { partlyOutside } from './partly-outside.ts';
import type { Condition } from './stage.ts';
import { stretch } from './stretch.ts';
import { sweepingGlare } from './sweeping-glare.ts';
import { tappedTablet } from './tapped-tablet.ts';
import { thrownPhoneCondition } from './thrown-phone.ts';
import { thrown } from './thrown.ts';
import { wideLens } from './wide-lens.ts';
import { wallScreen, wallScreenPerson, wallScreenRolling, wallScreenTurn, wallScreenZoom } from './wall-screen.ts';

/** Every kind of trouble that following is measured in. */
export const CONDITIONS: readonly Condition[] = [
  clean,
  orbitLaptop,
  blurBursts,
  darkReflection,
  covered,
  partlyOutside,
  lightsUp,
  distant,
  lockedOff,
  thrown,
  stretch,
  leavesFrame,
];

/** Those that corner points, hand keys and splices are measured in besides. */
export const HAND_CONDITIONS: readonly Condition[] = [sweepingGlare, hiddenCorner, thrownPhoneCondition];

/** Those that keys, shapes and spill are measured in. */
export const FRONT_CONDITIONS: readonly Condition[] = [glove];

/** Those that the look is measured in besides. */
export const BLEND_CONDITIONS: readonly Condition[] = [greenReflection];

/** Those that the scene solve is measured in. */
export const SCENE_CONDITIONS: readonly Condition[] = [wallScreen, wallScreenPerson, wallScreenTurn, wallScreenZoom];

/** Those that rows read one after the other are measured in. */
export const ROLLING_CONDITIONS: readonly Condition[] = [wallScreenRolling];

/** Those that lenses are measured in. */
export const LENS_CONDITIONS: readonly Condition[] = [wideLens];

/** Those that loops are measured in. */
export const LOOP_CONDITIONS: readonly Condition[] = [tappedTablet];

export const ALL_CONDITIONS: readonly Condition[] = [
  ...CONDITIONS,
  ...HAND_CONDITIONS,
  ...FRONT_CONDITIONS,
  ...BLEND_CONDITIONS,
  ...SCENE_CONDITIONS,
  ...ROLLING_CONDITIONS,
  ...LENS_CONDITIONS,
  ...LOOP_CONDITIONS,
];

/** The plate of a condition for a name as `clean@3`; null when there is no such condition. */
export function conditionShot(name: string): Shot | null {
  const [condition, seed] = name.split('@');
  return ALL_CONDITIONS.find((c) => c.name === condition)?.make(Number(seed)) ?? null;
}

export type { Condition, Limits } from './stage.ts';
