/** Traces outlines into curves, off the page's thread: a thin shell over traceOutlines. */
import { expose } from 'comlink';
import { type Trace, type TracedFrame, traceOutlines } from '~/core/trace/trace.ts';

const api = {
  trace: (frames: TracedFrame[], tolerance: number, onProgress: (share: number) => void): Trace => traceOutlines(frames, tolerance, onProgress),
};
export type TraceWorker = typeof api;

expose(api);
