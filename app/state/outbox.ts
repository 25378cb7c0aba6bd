/**
 * Changes that the server has not confirmed yet, kept in the browser's storage so that a crash of the page, the browser or
 * the server loses none. Each page keeps its own; a page that starts takes over what dead pages of the same shot left.
 */
import type { SentChange } from '~/server/changes.ts';

export interface UnsentChange {
  sent: SentChange;
  label: string;
}

const PREFIX = 'mottrel.unsent';
const PAGE_LOCK = 'mottrel.page.';
const keyOf = (shotId: string, page: string) => `${PREFIX}.${shotId}.${page}`;

/** Shows other pages that this one lives, until it is gone or the function that comes back is called. */
export function holdPage(id: string): () => void {
  let release = () => {};
  const gone = new Promise<void>((resolve) => {
    release = resolve;
  });
  void navigator.locks?.request(`${PAGE_LOCK}${id}`, () => gone);
  return release;
}

/** Pages of this browser that live, also those that are hidden and have let go of their line to the server. */
export async function livingPages(): Promise<string[]> {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  return held.flatMap(({ name }) => (name?.startsWith(PAGE_LOCK) ? [name.slice(PAGE_LOCK.length)] : []));
}

/** Keeps the unsent changes of this page. Gives false where the browser's storage is full or closed. */
export function keep(shotId: string, page: string, changes: UnsentChange[]): boolean {
  try {
    if (changes.length === 0) localStorage.removeItem(keyOf(shotId, page));
    else localStorage.setItem(keyOf(shotId, page), JSON.stringify(changes));
    return true;
  } catch {
    return false;
  }
}

/** What pages of this shot that are gone left unsent, oldest page first; it is theirs no longer. */
export async function takeOver(shotId: string): Promise<UnsentChange[]> {
  const found: UnsentChange[] = [];
  const prefix = `${PREFIX}.${shotId}.`;
  const keys = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? '').filter((k) => k.startsWith(prefix));
  for (const key of keys) {
    const take = () => {
      try {
        found.push(...(JSON.parse(localStorage.getItem(key) ?? '[]') as UnsentChange[]));
      } catch {}
      localStorage.removeItem(key);
    };
    if (!navigator.locks) take();
    else
      await navigator.locks.request(`${PAGE_LOCK}${key.slice(prefix.length)}`, { ifAvailable: true }, (lock) => {
        if (lock) take();
      });
  }
  return found;
}
