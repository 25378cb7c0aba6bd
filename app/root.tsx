import './load-context.ts';
import './styles.css';
import { Tooltip } from 'radix-ui';
import { use, useEffect, useRef, useState } from 'react';
import { isRouteErrorResponse, Link, Links, Meta, Outlet, Scripts, ScrollRestoration } from 'react-router';
import { Toaster } from 'sonner';
import type { Route } from './+types/root';
import { Nonce } from './nonce.ts';
import { useLink } from './state/link.ts';
import { LinkNotice } from './ui/link-notice.tsx';
import { useKeptScroll } from './ui/use-kept-scroll.ts';

export const links: Route.LinksFunction = () => [{ rel: 'icon', href: '/icon.svg', type: 'image/svg+xml' }];
export const meta: Route.MetaFunction = () => [{ title: 'Mottrel' }];

export function Layout({ children }: { children: React.ReactNode }) {
  const nonce = use(Nonce);
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
      </head>
      <body>
        <Tooltip.Provider delayDuration={400}>{children}</Tooltip.Provider>
        <Toaster theme="dark" position="bottom-right" closeButton />
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function App() {
  const box = useRef<HTMLDivElement>(null);
  useKeptScroll(box);
  return (
    <div ref={box} className="flex h-dvh flex-col overflow-auto">
      <LinkNotice />
      <Outlet />
    </div>
  );
}

/** Milliseconds between two looks whether a shot is ready. */
const LOOK_EVERY = 1500;

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const told = isRouteErrorResponse(error) ? (error.data as { code?: string; message?: string } | string | null) : null;
  const message =
    typeof told === 'string' && told
      ? told
      : typeof told === 'object' && told?.message
        ? told.message
        : isRouteErrorResponse(error) && error.status === 404
          ? 'There is no such page.'
          : 'Something went wrong in the program itself. What you drew is saved; load the page again.';
  // A page, or a piece of the program, that did not come since the server is away: it is loaded again once it is back.
  const outage = useLink((s) => s.outage);
  const [away, setAway] = useState(false);
  useEffect(() => {
    if (outage === 'server' || outage === 'database') setAway(true);
    else if (away && outage === null) window.location.reload();
  }, [outage, away]);
  // Footage that is being brought in, or whose frames are made again.
  const isComing = typeof told === 'object' && told?.code === 'not-ready';
  useEffect(() => {
    if (!isComing) return;
    const looking = setInterval(() => {
      fetch(window.location.href)
        .then((answer) => answer.ok && window.location.reload())
        // It is asked again.
        .catch(() => {});
    }, LOOK_EVERY);
    return () => clearInterval(looking);
  }, [isComing]);
  if (away)
    return (
      <>
        <LinkNotice />
        <main className="mx-auto mt-24 max-w-lg space-y-4 p-6">
          <title>Mottrel: waiting for the server</title>
          <h1 className="font-semibold text-xl">This page waits for the server</h1>
          <p>What you drew is kept. The page opens by itself once the server answers.</p>
        </main>
      </>
    );
  return (
    <main className="mx-auto mt-24 max-w-lg space-y-4 p-6">
      <title>{isComing ? 'Mottrel: not ready yet' : 'Mottrel: this did not work'}</title>
      <h1 className="font-semibold text-xl">{isComing ? 'This shot is not ready yet' : 'This did not work'}</h1>
      <p>
        {message}
        {isComing && ' The page opens by itself once it is.'}
      </p>
      <p className="flex gap-4">
        <button type="button" className="underline" onClick={() => window.location.reload()}>
          Load again
        </button>
        <Link className="underline" to="/">
          All productions
        </Link>
      </p>
    </main>
  );
}
