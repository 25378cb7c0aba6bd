import { Keyboard } from 'lucide-react';
import { Link } from 'react-router';

/** The way to the page of all shortcuts, on every top bar. */
export function ShortcutsLink() {
  return (
    <Link
      to="/shortcuts"
      aria-label="Keyboard shortcuts"
      title="Keyboard shortcuts"
      className="inline-flex size-7 shrink-0 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink"
    >
      <Keyboard className="size-4" />
    </Link>
  );
}
