/** Frames of a plate as bytes, for workers. */
import type { Size } from '~/core/image/picture.ts';

/** What lies behind an address. Rejects in words for the artist where it cannot be had. */
export async function fetched(url: string): Promise<Blob> {
  const response = await fetch(url).catch(() => {
    throw new Error('The server cannot be reached. The picture comes by itself once it is back.');
  });
  if (!response.ok) throw new Error(response.status === 404 ? 'The server has no such frame.' : `The server could not read this frame (${response.status}).`);
  return response.blob();
}

/** The frame behind an address as RGBA bytes, drawn at `size`, or at its own size. Rejects where the server has no such frame. */
export async function decodedFrame(url: string, size?: Size): Promise<Size & { data: Uint8ClampedArray }> {
  const bitmap = await createImageBitmap(await fetched(url));
  const { width, height } = size ?? bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true }) as OffscreenCanvasRenderingContext2D;
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  return { width, height, data: context.getImageData(0, 0, width, height).data };
}
