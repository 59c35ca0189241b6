import type { Scene } from './render.ts';
import type { Texture } from './texture.ts';

/** The same scene in which only the device's screen shines: its picture is how much of each pixel is screen. */
export function matteScene(scene: Scene): Scene {
  return {
    ...scene,
    reflection: undefined,
    exposure: undefined,
    spill: undefined,
    backdrop: [0, 0, 0],
    ...(scene.before ? { before: scene.before.map((card) => ({ ...card, texture: flat(card.texture, 0) })) } : {}),
    cards: scene.cards.map((card, i) => ({
      ...card,
      texture: flat(card.texture, 0),
      ...(card.screen
        ? { screen: { ...card.screen, glow: undefined, texture: flat(card.screen.texture, i === 0 ? 1 : 0) } }
        : {}),
    })),
    ...(scene.fingers
      ? { fingers: (time: number) => scene.fingers!(time).map((finger) => ({ ...finger, colour: [0, 0, 0] as const })) }
      : {}),
  };
}

function flat({ width, height, perCm }: Texture, value: number): Texture {
  return { width, height, perCm, data: new Float32Array(width * height * 3).fill(value), unpainted: null };
}
