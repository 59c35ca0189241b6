import sharp from 'sharp';
import { light, type Texture } from './scene/texture.ts';

/**
 * A content picture as a device would show it: display-referred code c comes out as
 * black + (white − black)·c. It is stretched over the screen.
 */
export async function contentTexture(
  file: string,
  widthCm: number,
  heightCm: number,
  levels: { black: number; white: number },
): Promise<Texture> {
  const { width: across, height: down } = await sharp(file).metadata();
  const perCm = down / heightCm;
  const wide = Math.round(widthCm * perCm);
  const whole = sharp(file).removeAlpha();
  const picture = Math.abs(wide - across) <= 1 ? whole : whole.resize(wide, down, { fit: 'fill' });
  const { data, info } = await picture.raw().toBuffer({ resolveWithObject: true });
  const out = new Float32Array(info.width * info.height * 3);
  const shown = (code: number) => levels.black + ((levels.white - levels.black) * code) / 255;
  for (let i = 0; i < out.length; i += 3)
    out.set(light([shown(data[i]!), shown(data[i + 1]!), shown(data[i + 2]!)]), i);
  return { width: info.width, height: info.height, perCm, data: out, unpainted: null };
}
