/** Other shots of the production while one is open: what there is to choose from, and whether what is shown of them has changed. */
import { useEffect, useState } from 'react';
import type { Showable } from '~/server/shots.ts';
import { listen } from './event-stream.ts';
import { send } from './send.ts';
import { useWorkbench } from './workbench-context.tsx';

/** Milliseconds of quiet after which what is shown of other shots is made anew, and after which it is asked what there is of them. */
const QUIET = 250;
const LONG_QUIET = 2000;

/**
 * Hears, once it is quiet, of other shots that have changed; which of them is not known (null) after the line was down.
 * @param found whether what is found for their Peels counts as well
 */
function listenElsewhere(quiet: number, found: boolean, onChanged: (shots: ReadonlySet<string> | null) => void): () => void {
  let changed: Set<string> | null = new Set();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let opened = false;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const shots = changed;
      changed = new Set();
      onChanged(shots);
    }, quiet);
  };
  const note = (shot: string) => {
    changed?.add(shot);
    soon();
  };
  const leave = listen({
    onOpen() {
      if (opened) {
        changed = null;
        soon();
      }
      opened = true;
    },
    onElsewhere: note,
    onJob: ({ kind, shotId }) => found && kind === 'carry' && note(shotId),
  });
  return () => {
    clearTimeout(timer);
    leave();
  };
}

/** The other shots, as they are by now. */
export function useNeighbours(shotId: string, start: Showable[]): Showable[] {
  const [shots, setShots] = useState(start);
  useEffect(() => {
    const fetchThem = () => void send<Showable[]>(`/shots/${shotId}/neighbours`).then(setShots, () => {});
    return listenElsewhere(LONG_QUIET, false, fetchThem);
  }, [shotId]);
  return shots;
}

/** Makes pictures anew that show something of other shots. */
export function useOtherShotsWatch(): void {
  const { pictures, otherShots } = useWorkbench();
  useEffect(() => {
    if (!pictures) return;
    return listenElsewhere(QUIET, true, (changed) => pictures.otherShotsChanged(changed ?? otherShots.map((s) => s.id)));
  }, [pictures, otherShots]);
}
