/** How long work will take: told from what such work took before, until it has shown its own speed. */

/** What work of one kind costs, milliseconds: before its first unit, and for each. */
export interface Cost {
  start: number;
  unit: number;
}

/** Until any work of a kind was done here. */
const USUAL: Record<string, Cost> = {
  carry: { start: 4000, unit: 250 },
  track: { start: 2000, unit: 60 },
  output: { start: 1500, unit: 150 },
  ingest: { start: 500, unit: 30 },
};
const UNKNOWN: Cost = { start: 1000, unit: 100 };

/** Share of the work after which its own speed alone counts. */
const OWN_SPEED = 0.1;

/** A run of a work, milliseconds since 1970 and units. */
export interface Run {
  startedAt: number;
  /** When its first unit was done, and how many were then; null before. */
  first: { at: number; done: number } | null;
  done: number;
  total: number;
}

export class Costs {
  private readonly known = new Map<string, Cost>();

  of(kind: string): Cost {
    return this.known.get(kind) ?? USUAL[kind] ?? UNKNOWN;
  }

  /** Learns from work that was done: from its own start and speed half, the rest from before. */
  learn(kind: string, run: Run, now: number): void {
    const made = run.first ? run.done - run.first.done : 0;
    if (!run.first || made < 4) return;
    const own = { start: run.first.at - run.startedAt, unit: (now - run.first.at) / made };
    const before = this.of(kind);
    const known = this.known.has(kind);
    const mixed = (a: number, b: number) => (known ? (a + b) / 2 : b);
    this.known.set(kind, { start: mixed(before.start, own.start), unit: mixed(before.unit, own.unit) });
  }
}

/** Milliseconds that a run has left; at least one unit where it is not done. */
export function timeLeft(run: Run, cost: Cost, now: number): number {
  const left = run.total - run.done;
  if (left <= 0) return 0;
  if (!run.first) {
    // Late already: it cannot be nearer to its end than at the start of its units.
    return Math.max(0, cost.start - (now - run.startedAt)) + left * cost.unit;
  }
  const made = run.done - run.first.done;
  const own = made > 0 ? (now - run.first.at) / made : cost.unit;
  const trust = Math.min(1, made / Math.max(1, OWN_SPEED * (run.total - run.first.done)));
  return left * (trust * own + (1 - trust) * cost.unit);
}

/**
 * When each of a line of waiting works will be done, milliseconds from now: whichever thread is free first takes the next.
 * @param running milliseconds that each running work has left
 * @param waiting milliseconds that each waiting work takes, in order
 */
export function lineUp(threads: number, running: readonly number[], waiting: readonly number[]): number[] {
  const free = [...running];
  while (free.length < threads) free.push(0);
  return waiting.map((takes) => {
    free.sort((a, b) => a - b);
    free[0] += takes;
    return free[0];
  });
}
