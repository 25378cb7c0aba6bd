import { ChevronRight } from 'lucide-react';
import { Fragment, type ReactNode } from 'react';
import { Link } from 'react-router';
import { HelpLinks } from './help-links.tsx';
import { RunningJobs } from './running-jobs.tsx';

/** The frame of the pages outside the workbench. */
export function PageFrame({ trail, actions, children }: { trail: { label: string; to?: string }[]; actions?: ReactNode; children: ReactNode }) {
  return (
    <div className="flex flex-1 flex-col">
      <header className="sticky top-0 z-10 flex h-12 items-center gap-2 border-line border-b bg-panel px-4">
        <Link to="/" className="flex items-center gap-2 font-semibold">
          <img src="/icon.svg" alt="" className="size-6" />
          Mottrel
        </Link>
        <nav aria-label="Where you are" className="flex min-w-0 items-center gap-1 text-sm">
          {trail.map(({ label, to }) => (
            <Fragment key={label}>
              <ChevronRight className="size-4 shrink-0 text-quiet" aria-hidden />
              {to ? (
                <Link to={to} className="truncate text-quiet hover:text-ink">
                  {label}
                </Link>
              ) : (
                <span className="truncate" aria-current="page">
                  {label}
                </span>
              )}
            </Fragment>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-2">
          {actions}
          <RunningJobs />
          <HelpLinks />
        </div>
      </header>
      <main className="mx-auto w-full max-w-6xl flex-1 px-6 py-6">{children}</main>
    </div>
  );
}
