/** Workers that live for one call. */

/**
 * Runs `work`, which calls the worker, and ends the worker with it. Throws the signal's reason where that asks for a stop, and an
 * Error with the words `failed` where the worker breaks.
 */
export async function withWorker<T>(worker: Worker, signal: AbortSignal, failed: string, work: (worker: Worker) => Promise<T>): Promise<T> {
  try {
    signal.throwIfAborted();
    const ended = new Promise<never>((_, reject) => {
      signal.addEventListener('abort', () => reject(signal.reason), { once: true });
      worker.addEventListener('error', () => reject(new Error(failed)), { once: true });
    });
    return await Promise.race([work(worker), ended]);
  } finally {
    worker.terminate();
  }
}
