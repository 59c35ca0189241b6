import { inject, provide, type InjectionKey } from 'vue';
import type { ViewTransform } from './view-transform.ts';

/** How the plate lies in the viewer, and the viewer's own size in CSS pixels; reactive. */
export interface Viewport {
  readonly view: ViewTransform;
  readonly width: number;
  readonly height: number;
}

const KEY: InjectionKey<Viewport> = Symbol('viewport');

/** For all that is laid over the plate within a viewer. */
export function provideViewport(viewport: Viewport): void {
  provide(KEY, viewport);
}

/** The viewport of the viewer that a component is in; throws outside of one. */
export function useViewport(): Viewport {
  const viewport = inject(KEY, null);
  if (!viewport) throw new Error('There is no viewer around this.');
  return viewport;
}
