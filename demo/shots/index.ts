import type { Shot } from '../scene/shot.ts';
import { benchTablet } from './bench-tablet.ts';
import { ordersLaptop } from './orders-laptop.ts';

/** Every shot the generator can make, by name. */
export const SHOTS: Readonly<Record<string, () => Shot>> = {
  'bench-tablet': () => benchTablet(),
  'orders-laptop': () => ordersLaptop(),
  'bench-tablet-thumb': () => benchTablet({ thumb: true }),
  'bench-tablet-dark': () => benchTablet({ screen: 'dark' }),
  'bench-tablet-green': () => benchTablet({ screen: 'green', seed: 12 }),
};

/** The ones whose clips ship with the demo project. */
export const SHIPPED = ['bench-tablet', 'orders-laptop'] as const;
