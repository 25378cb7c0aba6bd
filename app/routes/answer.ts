/** How faults become answers: each with a code, what happened and what to do next. */
import { data } from 'react-router';
import { ZodError } from 'zod';
import { isUnreachable } from '~/server/db/connect.ts';
import { Problem } from '~/server/problem.ts';

export interface Told {
  code: string;
  message: string;
}

/** The fault as people are told it. Faults of the program itself are logged and told in general words. */
export function tell(error: unknown): Told & { status: number } {
  const { name, code, message, status } = error as { name?: string; code?: string; message?: string; status?: number };
  if (name === 'Problem' && code && message) return { code, message, status: status ?? 400 };
  if (error instanceof ZodError || name === 'ZodError') {
    const issue = (error as ZodError).issues[0];
    const where = issue.path.length > 0 ? ` (${issue.path.join('.')})` : '';
    return { code: 'wrong-field', message: `${issue.message}${where}`, status: 422 };
  }
  if (error instanceof SyntaxError) return { code: 'not-json', message: 'What was sent is not valid JSON.', status: 400 };
  if (isUnreachable(error))
    return {
      code: 'database-away',
      message: 'The database cannot be reached just now. Your work is kept in this page; it is tried again by itself.',
      status: 503,
    };
  console.error(error);
  return { code: 'internal', message: 'Something went wrong in the program itself. Try again; the log of the server says more.', status: 500 };
}

/** For loaders of pages: a fault becomes the error page. */
export async function orErrorPage<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Response) throw error;
    const { status, ...told } = tell(error);
    throw data(told, { status });
  }
}

/** For forms: a fault comes back as `problem` beside the form. */
export async function orProblem<T>(work: () => Promise<T>) {
  try {
    return data({ problem: null as string | null, result: await work() }, { status: 200 });
  } catch (error) {
    if (error instanceof Response) throw error;
    const { status, message } = tell(error);
    return data({ problem: message as string | null, result: null }, { status });
  }
}

/** For resource routes: JSON either way. */
export async function asJson(work: () => Promise<unknown>): Promise<Response> {
  try {
    const value = await work();
    return value instanceof Response ? value : Response.json(value ?? null);
  } catch (error) {
    const { status, ...told } = tell(error);
    return Response.json(told, { status });
  }
}

/** Bytes of a refused body that are still read, so that a sender in the middle of it hears the answer. */
const DRAIN = 64 * 1024 * 1024;

/** Reads the rest of a body that is not wanted. */
export async function drain(request: Request): Promise<void> {
  if (!request.body || request.body.locked) return;
  const reader = request.body.getReader();
  try {
    for (let bytes = 0; bytes < DRAIN; ) {
      const { done, value } = await reader.read();
      if (done) return;
      bytes += value.length;
    }
  } catch {}
}

/** The JSON body of a request, at most `limit` bytes. */
export async function jsonBody(request: Request, limit: number): Promise<unknown> {
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

/** An endless answer of server-sent events. `start` gets a sender and gives what ends the subscription. */
export function eventStream(request: Request, start: (send: (value: unknown) => void) => () => void): Response {
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
        } catch {}
      });
    },
    cancel: () => end(),
  });
  return new Response(body, { headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' } });
}
