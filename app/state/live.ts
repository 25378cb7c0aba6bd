/**
 * The page's one event stream. A browser opens only six connections to a server, so everything shares this one, and a page
 * that is hidden for a while lets go of it; whoever listens catches up when it opens again.
 */
import type { LoggedChange } from '~/server/changes.ts';
import type { JobSummary } from '~/server/jobs/queue.ts';

export interface LiveListener {
  /** The stream is up: what came before may have been missed. */
  onOpen?(): void;
  onJob?(job: JobSummary): void;
  onChange?(change: LoggedChange): void;
}

const HIDDEN_FOR = 20_000;
const listeners = new Set<LiveListener>();
let shot: string | null = null;
let stream: EventSource | null = null;
let hiding: ReturnType<typeof setTimeout> | undefined;

function close(): void {
  stream?.close();
  stream = null;
}

function open(): void {
  close();
  if (listeners.size === 0) return;
  const source = new EventSource(shot ? `/events?shot=${shot}` : '/events');
  stream = source;
  source.onopen = () => {
    for (const l of listeners) l.onOpen?.();
  };
  source.onmessage = ({ data }) => {
    const { job, change } = JSON.parse(data as string) as { job?: JobSummary; change?: LoggedChange };
    for (const l of listeners) {
      if (job) l.onJob?.(job);
      if (change) l.onChange?.(change);
    }
  };
}

/** Listens until the function that comes back is called. `shotId` asks for the steps of that shot as well. */
export function listen(listener: LiveListener, shotId?: string): () => void {
  if (listeners.size === 0) document.addEventListener('visibilitychange', onVisibility);
  listeners.add(listener);
  if (!stream || (shotId && shotId !== shot)) {
    if (shotId) shot = shotId;
    open();
  } else if (stream.readyState === EventSource.OPEN) listener.onOpen?.();
  return () => {
    listeners.delete(listener);
    if (shotId && shot === shotId) shot = null;
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
