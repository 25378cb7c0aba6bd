/** What of the shot has no effect as it stands: told on every bench, where it is and in one list. */
import { useEffect } from 'react';
import { create } from 'zustand';
import { foreignRemarks } from '~/core/compose/foreign.ts';
import { isKnown, nameOf } from '~/core/compose/lane-items.ts';
import type { Unseen } from '~/core/compose/unseen.ts';
import { remarksOf } from '~/core/document/remarks.ts';
import { SHOT, type ShotDocument } from '~/core/document/schema.ts';
import { effectById } from '~/core/effects/index.ts';
import { useShot } from './shot-context.tsx';
import { useWaiting } from './wait.ts';
import { useView, useWorkbench } from './workbench-context.tsx';

export interface Remark {
  id: string;
  name: string;
  words: string;
}

const useUnseen = create<{ of: ShotDocument | null; frame: number; list: readonly Unseen[] }>(() => ({ of: null, frame: -1, list: [] }));

/** Milliseconds of quiet after which it is looked for. */
const QUIET = 500;

/** Looks for what is not seen, once the picture stands. */
export function useUnseenWatch(): void {
  const { pictures, view } = useWorkbench();
  const document = useShot((s) => s.history.settled);
  const drafting = useShot((s) => s.draft !== null);
  const frame = useView((s) => s.readFrame);
  const playing = useView((s) => s.playing !== 0);
  const whole = useWaiting((s) => s.shown === 'whole');
  useEffect(() => {
    if (!pictures || drafting || playing || !whole) return;
    if (document.lanes.length === 0) {
      useUnseen.setState({ of: document, frame, list: [] });
      return;
    }
    let left = false;
    const timer = setTimeout(() => {
      pictures.render.unseen(frame).then(
        (list) => !left && useUnseen.setState({ of: document, frame, list }),
        () => {},
      );
    }, QUIET);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [pictures, view, document, drafting, frame, playing, whole]);
}

function whyWords(document: ShotDocument, { id, why, nowhere }: Unseen): string {
  const item = document.lanes.find((l) => l.id === id);
  const subject = document.cast.find((s) => s.id === item?.subject)?.name;
  const where = nowhere ? 'not seen on any frame that was looked at' : 'not seen on this frame';
  if (why === 'covered') return `${where}: what lies nearer covers it`;
  if (why === 'no-change' && item?.type === 'effect' && item.lane !== 'inside' && isKnown(item) && effectById(item.effect).cuts)
    return 'it cuts nothing here: put it inside a subject, or onto an element';
  if (why === 'no-change')
    return item?.type === 'effect' ? `${where}: with these settings it changes nothing` : `${where}: it lies beside the picture, or is empty`;
  if (item?.lane === 'inside') return `${where}: the matte of ${subject} is empty here`;
  return `${where}: ${subject ?? 'the cast'} covers the whole picture`;
}

function remarksFrom(document: ShotDocument, { of, list }: { of: ShotDocument | null; list: readonly Unseen[] }, isHere: boolean): Remark[] {
  const told = [...foreignRemarks(document), ...remarksOf(document)];
  const named = (id: string): string => {
    const item = document.lanes.find((l) => l.id === id);
    if (item) return nameOf(item);
    for (const subject of document.cast) {
      if (subject.id === id) return subject.name;
      const part = subject.parts.find((p) => p.id === id);
      if (part) return `${subject.name}, ${part.name}`;
    }
    if (id === SHOT) return 'The shot';
    const note = document.notes.find((n) => n.id === id);
    if (note) return `The note on frame ${note.frame + document.plate.firstNumber}`;
    return [...document.tracks, ...document.markers].find((r) => r.id === id)?.name ?? '';
  };
  // What was looked for on another frame says nothing of those that are played.
  const unseen = of === document ? list.filter((u) => (isHere || u.nowhere) && !told.some((r) => r.id === u.id)) : [];
  return [...told, ...unseen.map((u) => ({ id: u.id, words: whyWords(document, u) }))].map((r) => ({ ...r, name: named(r.id) }));
}

/** As they were worked out last: every row of the cast and of the lanes asks for them. */
let last: { document: ShotDocument; unseen: object; isHere: boolean; remarks: Remark[] } | null = null;

/** All remarks on the shot as it is; those on single frames are of the current one. */
export function useRemarks(): Remark[] {
  const document = useShot((s) => s.history.settled);
  const unseen = useUnseen();
  // A step aside leaves it where it is until it is looked again.
  const isHere = useView((s) => s.playing === 0 || s.readFrame === unseen.frame);
  if (last?.document !== document || last.unseen !== unseen || last.isHere !== isHere)
    last = { document, unseen, isHere, remarks: remarksFrom(document, unseen, isHere) };
  return last.remarks;
}

/** The remark on one record. */
export const useRemark = (id: string): string | null => useRemarks().find((r) => r.id === id)?.words ?? null;
