/** The guide that goes beside the work, if any; kept in the browser, so that it is there again after a reload. */
import { z } from 'zod';
import { create } from 'zustand';
import { keepIn, keptIn } from './browser-kept.ts';

const STORED = 'mottrel.guide';

/** `folded`: shown as its title alone. */
const guideSchema = z.object({ id: z.string().nullable(), folded: z.boolean() });
type GuideState = z.infer<typeof guideSchema>;
const NONE: GuideState = { id: null, folded: false };

export const useGuide = create<GuideState>(() => NONE);

function set(state: GuideState): void {
  useGuide.setState(state);
  keepIn(STORED, state);
}

/** Takes up the guide of last time, or the one that the address asks for. */
export function openGuide(asked: string | null): void {
  if (asked) startGuide(asked);
  else useGuide.setState(keptIn(STORED, guideSchema, NONE));
}

export const startGuide = (id: string): void => set({ id, folded: false });
export const endGuide = (): void => set(NONE);
export const foldGuide = (folded: boolean): void => set({ id: useGuide.getState().id, folded });
