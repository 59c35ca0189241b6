import { thrownPhone } from '../shots/thrown-phone.ts';
import { LENS, type Condition } from './stage.ts';

/** The phone of the demo, smaller, with any seed. */
export const thrownPhoneCondition: Condition = {
  name: 'thrown-phone',
  title: 'a phone thrown and caught, turning half over',
  limits: { under1: 0.8 },
  make: (seed) => thrownPhone({ seed, lens: LENS, name: `thrown-phone@${seed}` }),
};
