/** A link to a shot, at the bench on which it was left. */
import { type ReactNode, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { type LeftOff, leftOff, shotAddress } from '../state/left-off.ts';

/** Where the shot was left, once the page runs in the browser that knows. */
export function useLeftOff(shotId: string): LeftOff | null {
  const [left, setLeft] = useState<LeftOff | null>(null);
  useEffect(() => setLeft(leftOff(shotId)), [shotId]);
  return left;
}

/** @param shot how many subjects and items it has: one that is made of items alone opens where these are */
export function ShotLink({ shot, className, children }: { shot: { id: string; subjects: number; composed: number }; className?: string; children: ReactNode }) {
  const left = useLeftOff(shot.id);
  const first = shot.subjects === 0 && shot.composed > 0 ? 'compose' : 'isolate';
  return (
    <Link to={left ? shotAddress(shot.id) : `/shots/${shot.id}/${first}`} className={className}>
      {children}
    </Link>
  );
}
