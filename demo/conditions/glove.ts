import { heldPhone } from '../shots/held-phone.ts';
import { LENS, type Condition } from './stage.ts';

/** A green phone held in a glove before seedlings, fingers crossing it: what stands before a screen is measured on it. */
export const glove: Condition = {
  name: 'glove',
  title: 'Green phone in a glove, fingers crossing, seedlings behind',
  limits: {},
  make: (seed) => heldPhone({ seed, lens: LENS, frames: 36, name: `glove@${seed}` }),
};
