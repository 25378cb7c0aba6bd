/** Which points are selected: indices of vertices by the id of their curve. */
export type Points = ReadonlyMap<string, ReadonlySet<number>>;

export const NO_POINTS: Points = new Map();

export const pointsOf = (points: Points, path: string | null): ReadonlySet<number> => (path && points.get(path)) || EMPTY;
const EMPTY: ReadonlySet<number> = new Set();

export const onePath = (path: string, vertices: ReadonlySet<number>): Points => new Map([[path, vertices]]);

export const countOf = (points: Points): number => [...points.values()].reduce((n, s) => n + s.size, 0);

/** Both selections together, or where `toggle`, what is in one of them only. */
export function joined(a: Points, b: Points, toggle = false): Points {
  const out = new Map<string, Set<number>>([...a].map(([path, set]) => [path, new Set(set)]));
  for (const [path, set] of b) {
    const own = out.get(path) ?? new Set<number>();
    for (const i of set) if (!own.delete(i) || !toggle) own.add(i);
    out.set(path, own);
  }
  return out;
}
