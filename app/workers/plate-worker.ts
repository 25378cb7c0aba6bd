/** Fetches and decodes frames of the plate, off the page's thread. */
import { expose, transfer } from 'comlink';
import { fetched } from './decoded-frame.ts';

const api = {
  /** The decoded frame; rejects where the server has no such frame. */
  async load(url: string): Promise<ImageBitmap> {
    const bitmap = await createImageBitmap(await fetched(url));
    return transfer(bitmap, [bitmap]);
  },
};
export type PlateWorker = typeof api;

expose(api);
