import type { Component } from 'vue';
import type { StepName } from '../rail/steps.ts';

/** Something that is laid over the plate; it finds where the plate lies by `useViewport`. */
export interface Overlay {
  /** A part of the drawing over the plate (SVG), or a sheet of its own: beneath the drawing, or over it. */
  layer: 'beneath' | 'drawing' | 'over';
  component: Component;
  /** Its props, and whether it is shown: asked anew when what they read changes. */
  props?: () => Record<string, unknown>;
  shown: () => boolean;
}

const makers = new Map<StepName, () => Overlay[]>();

/** What a step lays over the plate, in the order in which it is drawn. `make` is called within a component's setup. */
export function registerOverlays(step: StepName, make: () => Overlay[]): void {
  makers.set(step, make);
}

/** What all steps lay over the plate; called within a component's setup. */
export function allOverlays(): (Overlay & { step: StepName })[] {
  return [...makers].flatMap(([step, make]) => make().map((overlay) => ({ ...overlay, step })));
}
