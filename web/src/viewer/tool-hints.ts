import type { Tool } from '../stores/workspace.ts';

/** What the hand does next, shown while a tool is out. */
export const TOOL_HINTS: Record<Exclude<Tool, 'look'>, string> = {
  measure: 'Drag a square: its mean, darkest and brightest. Esc puts the tool away.',
  'draw-region':
    'Click around what moves with the screen. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-keep-out':
    'Click around what covers it. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-shape':
    'Click around what stands in front. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-area':
    'Click around where spilled light is worked on in its own way. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-cast':
    'Click around what the screen lights up. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-reflection':
    'Click around what the screen mirrors. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-fix':
    'Click around what is to be painted out. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'brush-fix': 'Paint over what is to go; let go to make it a fix. Esc puts the brush away.',
  'draw-straight':
    'Click four or more places along something that is straight in the world, the nearer the picture’s border the better. Enter ends it, Esc gives up.',
  'draw-plane':
    'Click around points that lie in the screen’s plane. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-split':
    'Click around where the other picture comes first. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-join-region':
    'Click around what is to lie on itself: what stands still in the world. The first point or Enter closes it, Esc gives up.',
  'pick-colour': 'Drag a square over the screen’s colour. Esc puts the tool away.',
  'put-point': 'Click what stands still and is to be followed. Esc puts the tool away.',
  'place-corners': 'Click the four corners in the order of the content. Backspace takes one back, Esc gives up.',
};
