/** Stored frames of a plate as trackers look at them. */
import { type Gray, lumaOf } from '../../core/image/picture.ts';
import { storedPicture } from '../peel/carry-peel.ts';

/** The luma of a frame at the size of the plate, in grey levels of 0 to 255. */
export async function storedLuma(storeDir: string, frame: number): Promise<Gray> {
  const { data, width, height } = await storedPicture(storeDir, frame, 'full');
  const luma = lumaOf(data as Uint8Array, 4, { width, height });
  for (let i = 0; i < luma.data.length; i++) luma.data[i] *= 255;
  return luma;
}
