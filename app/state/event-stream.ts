/**
 * The page's one event stream. A browser opens only six connections to a server, so everything shares this one, and a page
 * that is hidden for a while lets go of it; whoever listens catches up when it opens again. The server says something every
 * second or two: where it is silent, the page asks why.
 */
import type { LoggedChange } from '~/server/changes.ts';
import type { Health } from '~/server/health.ts';
import type { JobSummary } from '~/server/jobs/queue.ts';
import { setOutage } from './link.ts';

export interface StreamListener {
  /** The stream is up: what came before may have been missed. */
  onOpen?(): void;
  onJob?(job: JobSummary): void;
  onChange?(change: LoggedChange): void;
  /** Another shot has changed. */
  onElsewhere?(shot: string): void;
  /** Which pages have the shot open. */
  onPages?(pages: string[]): void;
}

interface News {
  job?: JobSummary;
  change?: LoggedChange;
  health?: Health;
  pages?: string[];
  elsewhere?: string;
  /** The shot has other footage. */
  footage?: boolean;
}

const HIDDEN_FOR = 20_000;
/** Milliseconds of silence after which the server is asked, that its answer may take, and between two looks. */
const SILENCE = 3000;
const PATIENCE = 1200;
const LOOK_EVERY = 500;
/** Between two tries to open the stream. */
const AGAIN = 1000;

const listeners = new Set<StreamListener>();
let shot: { id: string; page: string } | null = null;
let stream: EventSource | null = null;
let hiding: ReturnType<typeof setTimeout> | undefined;
let looking: ReturnType<typeof setInterval> | undefined;
let opening: ReturnType<typeof setTimeout> | undefined;
let heardAt = 0;
let lookedAt = 0;
let asking = false;

function close(): void {
  clearTimeout(opening);
  clearInterval(looking);
  stream?.close();
  stream = null;
}

function open(): void {
  close();
  if (listeners.size === 0) return;
  const source = new EventSource(shot ? `/events?shot=${shot.id}&page=${shot.page}` : '/events');
  stream = source;
  heardAt = lookedAt = performance.now();
  looking = setInterval(look, LOOK_EVERY);
  source.onopen = () => {
    for (const l of listeners) l.onOpen?.();
  };
  source.onmessage = ({ data }) => {
    heardAt = performance.now();
    const { job, change, health, pages, elsewhere, footage } = JSON.parse(data as string) as News;
    if (health) setOutage(health.database ? null : 'database');
    // All that the page holds is of other pictures now; what was not sent yet is kept.
    if (footage) window.location.reload();
    for (const l of listeners) {
      if (job) l.onJob?.(job);
      if (change) l.onChange?.(change);
      if (pages) l.onPages?.(pages);
      if (elsewhere) l.onElsewhere?.(elsewhere);
    }
  };
  // Tried again by hand: a browser gives up for good where something else answers in the server's place.
  source.onerror = () => {
    void ask();
    source.close();
    clearTimeout(opening);
    if (stream === source) opening = setTimeout(open, AGAIN);
  };
}

function look(): void {
  const now = performance.now();
  // A page that was busy itself has heard nothing either.
  const late = now - lookedAt > 3 * LOOK_EVERY;
  lookedAt = now;
  if (late) heardAt = Math.max(heardAt, now - SILENCE / 2);
  else if (now - heardAt > SILENCE) void ask();
}

/** Asks the server directly why nothing comes. */
async function ask(): Promise<void> {
  if (asking) return;
  asking = true;
  const heard = heardAt;
  const answer = await fetch('/healthz', { signal: AbortSignal.timeout(PATIENCE) }).catch(() => null);
  const health = (await answer?.json().catch(() => null)) as Partial<Health> | null | undefined;
  asking = false;
  if (!stream || heardAt !== heard) return;
  if (typeof health?.database !== 'boolean') setOutage('server');
  else if (!health.database) setOutage('database');
  else if (performance.now() - heardAt > SILENCE) {
    setOutage('news');
    if (stream.readyState === EventSource.OPEN) open();
  }
}

/** Listens until the function that comes back is called. `of` asks for the steps of a shot as well, which a page has open. */
export function listen(listener: StreamListener, of?: { id: string; page: string }): () => void {
  if (listeners.size === 0) document.addEventListener('visibilitychange', onVisibility);
  listeners.add(listener);
  if (!stream || (of && of.page !== shot?.page)) {
    if (of) shot = of;
    open();
  } else if (stream.readyState === EventSource.OPEN) listener.onOpen?.();
  return () => {
    listeners.delete(listener);
    if (of && shot === of) shot = null;
    if (listeners.size === 0) {
      close();
      document.removeEventListener('visibilitychange', onVisibility);
    }
  };
}

function onVisibility(): void {
  clearTimeout(hiding);
  if (document.hidden) hiding = setTimeout(close, HIDDEN_FOR);
  else if (!stream) open();
}
