/** Stored frames of a plate as trackers look at them. */
import type { Gray } from '../../core/image/picture.ts';
import { greyLevels } from '../../core/track/pyramid.ts';
import { storedPicture } from '../peel/carry-peel.ts';

/** A frame at the size of the plate, or its proxy, in grey levels. */
export async function storedLuma(storeDir: string, frame: number, of: 'full' | 'proxy' = 'full'): Promise<Gray> {
  const { data, width, height } = await storedPicture(storeDir, frame, of);
  return greyLevels(data as Uint8Array, { width, height });
}
