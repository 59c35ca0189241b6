import type { Shot } from '../scene/shot.ts';
import { benchTablet } from './bench-tablet.ts';
import { ordersLaptop } from './orders-laptop.ts';

/** Every shot the demo can make, by name. */
export const SHOTS: Readonly<Record<string, (seed?: number) => Shot>> = {
  'bench-tablet': benchTablet,
  'orders-laptop': ordersLaptop,
};
