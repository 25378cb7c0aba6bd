/** Other shots of the production while one is open: what there is to choose from, and whether what is shown of them has changed. */
import { useEffect, useState } from 'react';
import type { Showable } from '~/server/shots.ts';
import { listen } from './event-stream.ts';
import { send } from './send.ts';
import { useWorkbench } from './workbench-context.tsx';

/** Milliseconds of quiet after which changes of other shots are taken in. */
const QUIET = 250;

/** Hears, once it is quiet, of other shots that have changed; which of them is not known (null) after the line was down. */
function listenElsewhere(onChanged: (shots: ReadonlySet<string> | null) => void): () => void {
  let changed: Set<string> | null = new Set();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let opened = false;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      const shots = changed;
      changed = new Set();
      onChanged(shots);
    }, QUIET);
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
    onJob: ({ kind, shotId }) => kind === 'carry' && note(shotId),
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
    return listenElsewhere(fetchThem);
  }, [shotId]);
  return shots;
}

/** Makes pictures anew that show something of other shots. */
export function useOtherShotsWatch(): void {
  const { pictures, otherShots } = useWorkbench();
  useEffect(() => {
    if (!pictures) return;
    return listenElsewhere((changed) => pictures.otherShotsChanged(changed ?? otherShots.map((s) => s.id)));
  }, [pictures, otherShots]);
}
