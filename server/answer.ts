/** How requests are read, and how faults become answers: each with a code, what happened and what to do next. */
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { isUnreachable } from './db/connect.ts';
import { Problem } from './problem.ts';

export interface Told {
  code: string;
  message: string;
}

/** What a route needs to read a request and to answer it. */
export interface Answer {
  /** The fault as people are told it, with the status of the answer. Faults of the program itself are logged and told in general words. */
  tell(error: unknown): Told & { status: number };
  /** The JSON body of a request, at most `limit` bytes. */
  body(request: Request, limit: number): Promise<unknown>;
  /** Reads the rest of a body that is not wanted. */
  drain(request: Request): Promise<void>;
  /** An endless answer of server-sent events. `start` gets a sender and gives what ends the subscription. */
  events(request: Request, start: (send: (value: unknown) => void) => () => void): Response;
}

export const answerWith = (log: Logger): Answer => ({ tell: (error) => tell(error, log), body: jsonBody, drain, events: eventStream });

function tell(error: unknown, log: Logger): Told & { status: number } {
  if (error instanceof Problem) return { code: error.code, message: error.message, status: error.status };
  if (error instanceof ZodError) {
    const issue = error.issues[0];
    const where = issue.path.length > 0 ? ` (${issue.path.join('.')})` : '';
    return { code: 'wrong-field', message: `${issue.message}${where}`, status: 422 };
  }
  if (error instanceof SyntaxError) return { code: 'not-json', message: 'What was sent is not valid JSON.', status: 400 };
  if (isUnreachable(error)) {
    log.warn({ err: error }, 'The database cannot be reached');
    return {
      code: 'database-away',
      message: 'The database cannot be reached just now. Your work is kept in this page; it is tried again by itself.',
      status: 503,
    };
  }
  log.error({ err: error }, 'A request failed');
  return { code: 'internal', message: 'Something went wrong in the program itself. Try again; the log of the server says more.', status: 500 };
}

/** Bytes of a refused body that are still read, so that a sender in the middle of it hears the answer. */
const DRAIN = 64 * 1024 * 1024;

async function drain(request: Request): Promise<void> {
  if (!request.body || request.body.locked) return;
  const reader = request.body.getReader();
  try {
    for (let bytes = 0; bytes < DRAIN; ) {
      const { done, value } = await reader.read();
      if (done) return;
      bytes += value.length;
    }
  } catch {
    // The sender has gone: there is nobody to answer.
  }
}

async function jsonBody(request: Request, limit: number): Promise<unknown> {
  const tooLarge = () => new Problem('too-large', 'What was sent is larger than can be taken.', 413);
  if (Number(request.headers.get('content-length') ?? 0) > limit) {
    await drain(request);
    throw tooLarge();
  }
  const text: string[] = [];
  let bytes = 0;
  const decoder = new TextDecoder();
  const reader = request.body?.getReader();
  for (;;) {
    const next = await reader?.read();
    if (!next || next.done) break;
    bytes += next.value.length;
    if (bytes > limit) throw tooLarge();
    text.push(decoder.decode(next.value, { stream: true }));
  }
  return JSON.parse(text.join(''));
}

function eventStream(request: Request, start: (send: (value: unknown) => void) => () => void): Response {
  const encoder = new TextEncoder();
  let end = () => {};
  const body = new ReadableStream({
    start(controller) {
      const stop = start((value) => controller.enqueue(encoder.encode(`data: ${JSON.stringify(value)}\n\n`)));
      // Comments keep the line open through idle time-outs.
      const beat = setInterval(() => controller.enqueue(encoder.encode(':\n\n')), 15_000);
      controller.enqueue(encoder.encode(':\n\n'));
      end = () => {
        clearInterval(beat);
        stop();
      };
      request.signal.addEventListener('abort', () => {
        end();
        try {
          controller.close();
        } catch {
          // It was closed from the other side.
        }
      });
    },
    cancel: () => end(),
  });
  return new Response(body, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' } });
}
