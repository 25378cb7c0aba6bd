import { createContext, use } from 'react';
import { useStore } from 'zustand';
import { follows } from '~/core/document/follow.ts';
import { partWith } from '~/core/document/parts.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import type { ReachContext } from '~/core/time/reach.ts';
import type { FormatDescription } from '~/server/outputs/format.ts';
import type { Showable } from '~/server/shots.ts';
import type { Pictures } from '../frame/pictures.ts';
import { useShot } from './shot-context.tsx';
import type { ShotState } from './shot-store.ts';
import type { ViewState, ViewStore } from './view-store.ts';

export interface PlateFacts {
  id: string;
  width: number;
  height: number;
  proxyWidth: number;
  proxyHeight: number;
  frames: number;
  rate: { num: number; den: number };
  firstNumber: number;
  hasSound: boolean;
  /** Frames on which something else is seen than what should be there, and why. */
  damage: readonly { frame: number; why: string }[];
}

export interface Workbench {
  plate: PlateFacts;
  productionId: string;
  /** Outputs of the shot that were there when the page was opened. */
  written: number;
  /** What carrying costs on this server, milliseconds; and how many works go on at a time. */
  carryCost: { start: number; unit: number };
  threads: number;
  /** What can be written. */
  formats: readonly FormatDescription[];
  /** Ready shots of the same production. */
  otherShots: Showable[];
  view: ViewStore;
  /** Null until the page runs in a browser. */
  pictures: Pictures | null;
}

export const WorkbenchContext = createContext<Workbench | null>(null);

export function useWorkbench(): Workbench {
  const value = use(WorkbenchContext);
  if (!value) throw new Error('There is no workbench here.');
  return value;
}

export const useView = <T,>(select: (state: ViewState) => T): T => useStore(useWorkbench().view, select);

/** What Reach goes by: the shot's frames, and the marked range with its fade. */
export function useReachContext(): ReachContext {
  const { frames } = useWorkbench().plate;
  const range = useView((s) => s.range);
  const fade = useView((s) => s.fade);
  return { frames, range, fade };
}

const subjectFor = ({ cast, lanes }: ShotDocument, selected: string | null) => {
  const lane = lanes.find((l) => l.id === selected);
  const own = cast.find((s) => s.id === selected || s.id === lane?.subject || partWith(s, selected));
  return own ?? cast.find((s) => s.parts.some((p) => follows(p, selected))) ?? cast[0] ?? null;
};

/** The current subject of a shot as it is this moment, for handlers. */
export const currentSubject = ({ document, selected }: Pick<ShotState, 'document' | 'selected'>) => subjectFor(document, selected);

/** Its id: for what need not be rendered again at every move of a drag. */
export const useCurrentSubjectId = (): string | null => useShot((s) => currentSubject(s)?.id ?? null);

/** The subject that panels and views are about: the selected one, the one that holds what is selected, or the first. */
export const useCurrentSubject = () => useShot(currentSubject);

/** The track that is worked on: the selected one, or the one that the selected part follows. */
export const useWorkedTrack = () =>
  useShot(({ history: { settled }, selected }) => {
    const subject = subjectFor(settled, selected);
    const part = subject ? partWith(subject, selected) : undefined;
    const id = part?.type === 'spline' && part.follow ? part.follow.track : selected;
    return settled.tracks.find((t) => t.id === id);
  });

/** The same without the edit in progress: for panels that need not follow every move of a drag. */
export const useSettledSubject = () => useShot((s) => subjectFor(s.history.settled, s.selected));
