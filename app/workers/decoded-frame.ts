/** Frames of a plate as bytes, for workers. */
import type { Size } from '~/core/image/picture.ts';

/** The frame behind an address as RGBA bytes, drawn at `size`, or at its own size. Rejects where the server has no such frame. */
export async function decodedFrame(url: string, size?: Size): Promise<Size & { data: Uint8ClampedArray }> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`The frame could not be fetched (${response.status}).`);
  const bitmap = await createImageBitmap(await response.blob());
  const { width, height } = size ?? bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true }) as OffscreenCanvasRenderingContext2D;
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  return { width, height, data: context.getImageData(0, 0, width, height).data };
}
