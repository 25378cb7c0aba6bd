import { CircleHelp, Keyboard } from 'lucide-react';
import { Link } from 'react-router';
import { Hint } from './controls.tsx';

const FACE = 'inline-flex size-7 shrink-0 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink';

/** The ways to the help and to the page of all shortcuts, on every top bar. */
export function HelpLinks() {
  return (
    <>
      <Hint label="Help" shortcut="help" about="All pages, to be searched. In a shot ? opens the one on what is selected or in hand.">
        <Link to="/help" aria-label="Help" className={FACE}>
          <CircleHelp className="size-4" />
        </Link>
      </Hint>
      <Hint label="Keyboard shortcuts" about="What every key does, and changing it.">
        <Link to="/shortcuts" aria-label="Keyboard shortcuts" className={FACE}>
          <Keyboard className="size-4" />
        </Link>
      </Hint>
    </>
  );
}
