import sharp from 'sharp';
import { light, type Texture } from './scene/texture.ts';

/**
 * A content picture as a device would show it: display-referred code c comes out as
 * black + (white − black)·c. `widthCm` stretches it over the screen.
 */
export async function contentTexture(file: string, widthCm: number, heightCm: number, levels: { black: number; white: number }): Promise<Texture> {
  const { data, info } = await sharp(file).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const perCm = info.width / widthCm;
  if (Math.abs(info.height / heightCm - perCm) > 0.01 * perCm) throw new Error(`${file} has other proportions than the screen (${widthCm}×${heightCm} cm)`);
  const out = new Float32Array(info.width * info.height * 3);
  const shown = (code: number) => levels.black + ((levels.white - levels.black) * code) / 255;
  for (let i = 0; i < out.length; i += 3) out.set(light([shown(data[i]!), shown(data[i + 1]!), shown(data[i + 2]!)]), i);
  return { width: info.width, height: info.height, perCm, data: out, unpainted: null };
}
