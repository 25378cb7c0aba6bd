/** Whether the sound of the plate is heard, as this browser keeps it. */
import { z } from 'zod';
import { create } from 'zustand';
import { keepIn, keptIn } from './browser-kept.ts';

const STORED = 'mottrel.sound';
const soundSchema = z.object({
  /** While it plays forwards. */
  playing: z.boolean(),
  /** Of each frame that is stepped to. */
  stepping: z.boolean(),
});
type Sound = z.infer<typeof soundSchema>;

const STARTS: Sound = { playing: true, stepping: false };

export const useSound = create<Sound>(() => STARTS);

/** Takes what was kept, once the page runs: the server, which draws it first, knows nothing of it. */
export const takeKeptSound = (): void => useSound.setState(keptIn(STORED, soundSchema, STARTS));

export function setSound(some: Partial<Sound>): void {
  useSound.setState(some);
  keepIn(STORED, useSound.getState());
}
