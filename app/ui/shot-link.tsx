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

export function ShotLink({ id, className, children }: { id: string; className?: string; children: ReactNode }) {
  const left = useLeftOff(id);
  return (
    <Link to={left ? shotAddress(id) : `/shots/${id}/isolate`} className={className}>
      {children}
    </Link>
  );
}
