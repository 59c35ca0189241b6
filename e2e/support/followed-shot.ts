import sharp from 'sharp';
import type { Api } from '../../server/test/api.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';

export const FRAMES = 8;
export const REFERENCE = 3;

export const followedShot = (api: Api) => preparedShot(api, FRAMES, { reference: REFERENCE, followed: true });
/** Mean of the screen's middle on a picture of a frame. */
export async function middle(picture: Buffer, corners: readonly (readonly [number, number])[]): Promise<number[]> {
  const { width } = await sharp(picture).metadata();
  const scale = width / 640;
  const x = scale * corners.reduce((sum, c) => sum + c[0] / 4, 0);
  const y = scale * corners.reduce((sum, c) => sum + c[1] / 4, 0);
  const { channels } = await sharp(
    await sharp(picture)
      .extract({
        left: Math.round(x - 15 * scale),
        top: Math.round(y - 10 * scale),
        width: Math.round(30 * scale),
        height: Math.round(20 * scale),
      })
      .png()
      .toBuffer(),
  ).stats();
  return channels.slice(0, 3).map((c) => c.mean);
}
