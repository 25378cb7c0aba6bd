/** Fetches and decodes frames of the plate, off the page's thread. */
import { expose, transfer } from 'comlink';

const api = {
  /** The decoded frame; rejects where the server has no such frame. */
  async load(url: string): Promise<ImageBitmap> {
    const response = await fetch(url);
    if (!response.ok) throw new Error(`The frame could not be fetched (${response.status}).`);
    const bitmap = await createImageBitmap(await response.blob());
    return transfer(bitmap, [bitmap]);
  },
};
export type PlateWorker = typeof api;

expose(api);
