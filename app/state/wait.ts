/** What the viewer shows against what it should show, and what it waits for. */
import { create } from 'zustand';

/** What is being done for a picture: its frames read, its strokes cut, its matte, the picture itself. */
export interface Step {
  what: 'decoding' | 'cutting' | 'matte' | 'picture';
  /** How far it is, where it goes in pieces. */
  done?: number;
  of?: number;
}

/**
 * What is on the screen: the picture asked for; it at another size; the plate without its matte; this frame as it was before; another frame.
 * A picture that could not be made is told of in words.
 */
export type Shown = 'whole' | 'coarse' | 'bare' | 'older' | 'other';

interface Waiting {
  shown: Shown;
  /** Since when it is not the whole picture, performance.now(). */
  since: number;
  step: Step | null;
  problem: string | null;
}

export const useWaiting = create<Waiting>(() => ({ shown: 'whole', since: 0, step: null, problem: null }));

export function setShown(shown: Shown): void {
  const now = useWaiting.getState();
  if (shown === now.shown) return;
  const began = now.shown === 'whole' ? performance.now() : now.since;
  useWaiting.setState({ shown, since: began, ...(shown === 'whole' ? { step: null, problem: null } : {}) });
}

const SHOWN_WORDS = {
  coarse: 'Not yet at full size',
  bare: 'Not yet with its matte',
  older: 'Not yet as it is now',
  other: 'Not yet this frame',
} as const;
const STEP_WORDS: Record<Step['what'], string> = {
  decoding: 'reading the frame',
  cutting: 'cutting out what was painted',
  matte: 'making the matte',
  picture: 'making the picture',
};

/** What is shown, and what it waits for, in words. */
export function waitWords(shown: Exclude<Shown, 'whole'>, step: Step | null): string {
  const what = step ? STEP_WORDS[step.what] : 'reading the frame';
  const far = step?.of && step.of > 1 ? `, ${step.done ?? 0} of ${step.of}` : '';
  return `${SHOWN_WORDS[shown]}: ${what}${far} …`;
}
