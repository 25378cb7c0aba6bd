/** The guide that goes beside the work, if any; kept in the browser, so that it is there again after a reload. */
import { create } from 'zustand';

const STORED = 'mottrel.guide';

interface GuideState {
  id: string | null;
  /** Shown as its title alone. */
  folded: boolean;
}

export const useGuide = create<GuideState>(() => ({ id: null, folded: false }));

function set(state: GuideState): void {
  useGuide.setState(state);
  try {
    localStorage.setItem(STORED, JSON.stringify(state));
  } catch {
    // It is gone after a reload then.
  }
}

/** Takes up the guide of last time, or the one that the address asks for. */
export function openGuide(asked: string | null): void {
  if (asked) {
    startGuide(asked);
    return;
  }
  try {
    const { id, folded } = JSON.parse(localStorage.getItem(STORED) ?? '{}') as Partial<GuideState>;
    useGuide.setState({ id: typeof id === 'string' ? id : null, folded: folded === true });
  } catch {
    // As if there were none.
  }
}

export const startGuide = (id: string): void => set({ id, folded: false });
export const endGuide = (): void => set({ id: null, folded: false });
export const foldGuide = (folded: boolean): void => set({ id: useGuide.getState().id, folded });
