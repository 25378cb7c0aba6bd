/** Whether the server can be reached: what every page says where it cannot, and what is kept here meanwhile. */
import { create } from 'zustand';

/** What does not answer; null while all does. */
export type Outage = 'server' | 'database' | 'news';

interface LinkState {
  outage: Outage | null;
  /** When it began, milliseconds since 1970. */
  since: number;
  /** Steps of work that are kept in this browser until the server has them. */
  unsent: number;
}

export const useLink = create<LinkState>(() => ({ outage: null, since: 0, unsent: 0 }));

export function setOutage(outage: Outage | null): void {
  const now = useLink.getState();
  if (now.outage !== outage) useLink.setState({ outage, since: now.outage === null ? Date.now() : now.since });
}

export const setUnsent = (unsent: number): void => useLink.setState({ unsent });

const steps = (n: number) => (n === 1 ? 'one step' : `${n} steps`);

/** An outage in words: what it is, what is kept, what will happen. */
export function outageWords(outage: Outage, unsent: number): { what: string; next: string } {
  const kept =
    unsent > 0
      ? `${steps(unsent)[0].toUpperCase()}${steps(unsent).slice(1)} of your work ${unsent === 1 ? 'is' : 'are'} kept in this browser and saved then.`
      : 'All that you did until now is saved; what you do meanwhile is kept in this browser.';
  switch (outage) {
    case 'server':
      return {
        what: 'Mottrel does not answer.',
        next: `${kept} Running work stands still and goes on when it is back, by itself. Was it stopped? Start it with ./mottrel start.`,
      };
    case 'database':
      return { what: 'The database does not answer.', next: `${kept} It is started again by itself; running work waits for it.` };
    case 'news':
      return {
        what: 'News from the server does not come through.',
        next: 'How far work is, and what other pages do, may be out of date here. It is tried again by itself.',
      };
  }
}
