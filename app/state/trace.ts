/** Tracing a matte into curves: the outline of each frame from the renderer, then all of them together. */
import { proxy, wrap } from 'comlink';
import type { Path } from '~/core/document/schema.ts';
import { roundedShape } from '~/core/path/path.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import type { Trace, TracedFrame } from '~/core/trace/trace.ts';
import type { Pictures } from '../frame/pictures.ts';
import type { TraceWorker } from '../workers/trace-worker.ts';
import { withWorker } from './one-call-worker.ts';

export interface TraceRequest {
  subject: string;
  /** The part alone; null traces the finished matte. */
  part: string | null;
  range: FrameRange;
  /** Plate pixels. */
  tolerance: number;
  /** Pieces and holes of fewer square pixels of the plate are left out. */
  leastArea: number;
}

/** Of all work, the share that finding the outlines takes, by rule of thumb. */
const OUTLINES = 0.5;

/** Throws an AbortError where the signal asks it to stop. */
export async function traceMatte(pictures: Pictures, request: TraceRequest, onProgress: (share: number) => void, signal: AbortSignal): Promise<Trace> {
  const { subject, part, range, tolerance, leastArea } = request;
  const frames: TracedFrame[] = [];
  const count = range.last - range.first + 1;
  for (let frame = range.first; frame <= range.last; frame++) {
    const outlines = await pictures.render.outlines(subject, part, frame, leastArea);
    signal.throwIfAborted();
    frames.push({ frame, outlines });
    onProgress((OUTLINES * frames.length) / count);
  }
  const worker = new Worker(new URL('../workers/trace-worker.ts', import.meta.url), { type: 'module' });
  return withWorker(worker, signal, 'The outlines could not be traced.', (w) =>
    wrap<TraceWorker>(w).trace(
      frames,
      tolerance,
      proxy((share: number) => onProgress(OUTLINES + (1 - OUTLINES) * share)),
    ),
  );
}

/** Paths of a document from what was traced, to a hundredth of a pixel. */
export const pathsFrom = (trace: Trace, newId: () => string): Path[] =>
  trace.paths.map((keys) => ({
    id: newId(),
    type: 'path',
    closed: true,
    between: 'straight',
    shape: { keys: keys.map((k) => ({ ...k, value: roundedShape(k.value) })) },
  }));
