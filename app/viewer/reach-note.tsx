/** What an edit here will change, at the pointer, before it is made. */

import { heldWhereTrusted } from '~/core/document/follow.ts';
import { findPath } from '~/core/document/parts.ts';
import { type Reach, reachedFrames } from '~/core/time/reach.ts';
import { kindOf } from '../edits/path-edits.ts';
import { useShot } from '../state/shot-context.tsx';
import { useReachContext, useView, useWorkbench } from '../state/workbench-context.tsx';
import { rangeName } from '../ui/range-name.ts';

export const REACH_WORDS: Record<Reach, string> = {
  'this-frame': 'This frame',
  'between-keys': 'Between keys',
  'marked-range': 'Marked range',
  'all-frames': 'All frames',
};

/** "Between keys · frames 5 to 11 · 1 key". */
export function useReachWords(pathId: string | null): string {
  const document = useShot((s) => s.document);
  const reach = useShot((s) => s.reach);
  const frame = useView((s) => s.readFrame);
  const context = useReachContext();
  const { plate } = useWorkbench();
  const viewTransform = pathId ? findPath(document, pathId) : null;
  if (!viewTransform) return REACH_WORDS[reach];
  const kind = kindOf(viewTransform.path);
  const stabilised = reach === 'between-keys' ? heldWhereTrusted(viewTransform.path, frame, kind) : viewTransform.path.shape;
  const { first, last, keys } = reachedFrames(stabilised, frame, reach, context, kind.beyond);
  const span = `${first === last ? 'frame' : 'frames'} ${rangeName({ first, last }, plate.firstNumber)}`;
  if (keys === 0) return `All frames · ${span} · no keys`;
  const { range } = context;
  // Without a range, or outside it, an edit goes between its keys.
  const inRange = range !== null && frame >= range.first && frame <= range.last;
  const words = reach === 'marked-range' && !inRange ? (range ? 'Outside the marked range: between keys' : 'No marked range: all frames') : REACH_WORDS[reach];
  return `${words} · ${span} · ${keys === 1 ? '1 key' : `${keys} keys`}`;
}

export function ReachNote({ pathId, x, y }: { pathId: string; x: number; y: number }) {
  return (
    <div
      className="pointer-events-none absolute z-10 whitespace-nowrap rounded bg-black/80 px-1.5 py-0.5 text-2xs text-white"
      style={{ left: x + 16, top: y + 18 }}
    >
      {useReachWords(pathId)}
    </div>
  );
}
