import { conditionShot } from '../conditions/index.ts';
import type { Shot } from '../scene/shot.ts';
import { benchTablet } from './bench-tablet.ts';
import { heldPhone } from './held-phone.ts';
import { ordersLaptop } from './orders-laptop.ts';
import { tappedTabletShot } from './tapped-tablet.ts';
import { thrownPhone } from './thrown-phone.ts';
import { wallScreen } from './wall-screen.ts';
import { wideTablet } from './wide-tablet.ts';

/** Every shot the generator can make, by name. */
export const SHOTS: Readonly<Record<string, () => Shot>> = {
  'bench-tablet': () => benchTablet(),
  'orders-laptop': () => ordersLaptop(),
  'thrown-phone': () => thrownPhone(),
  'held-phone': () => heldPhone(),
  'wall-screen': () => wallScreen(),
  'wide-tablet': () => wideTablet(),
  'tapped-tablet': () => tappedTabletShot(),
  'bench-tablet-thumb': () => benchTablet({ thumb: true }),
  'bench-tablet-dark': () => benchTablet({ screen: 'dark' }),
  'bench-tablet-green': () => benchTablet({ screen: 'green', seed: 12 }),
};

/** The ones whose clips ship with the demo project. */
export const SHIPPED = [
  'bench-tablet',
  'orders-laptop',
  'thrown-phone',
  'held-phone',
  'wall-screen',
  'wide-tablet',
  'tapped-tablet',
] as const;

/** A shot by its name; plates of a condition are called like `clean@3`. */
export function shotNamed(name: string): Shot {
  const shot = SHOTS[name]?.() ?? conditionShot(name);
  if (!shot) throw new RangeError(`no shot is called ${name}`);
  return shot;
}
