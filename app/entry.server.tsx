import { PassThrough } from 'node:stream';
import { createReadableStreamFromReadable } from '@react-router/node';
import { isbot } from 'isbot';
import { type RenderToPipeableStreamOptions, renderToPipeableStream } from 'react-dom/server';
import { type AppLoadContext, type EntryContext, ServerRouter } from 'react-router';
import './load-context.ts';
import { Nonce } from './nonce.ts';

const GIVE_UP = 10_000;

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  context: EntryContext,
  { nonce, answer }: AppLoadContext,
): Promise<Response> {
  const ready: keyof RenderToPipeableStreamOptions = isbot(request.headers.get('user-agent') ?? '') ? 'onAllReady' : 'onShellReady';
  return new Promise((resolve, reject) => {
    let sent = false;
    let code = status;
    const { pipe, abort } = renderToPipeableStream(
      <Nonce value={nonce}>
        <ServerRouter context={context} url={request.url} nonce={nonce} />
      </Nonce>,
      {
        nonce,
        [ready]() {
          sent = true;
          const body = new PassThrough();
          headers.set('Content-Type', 'text/html; charset=utf-8');
          resolve(new Response(createReadableStreamFromReadable(body), { headers, status: code }));
          pipe(body);
        },
        onShellError: reject,
        onError(error: unknown) {
          code = 500;
          if (sent) answer.tell(error);
        },
      },
    );
    setTimeout(abort, GIVE_UP);
  });
}

/** Faults told to people are answers, not errors of the program: only the others are logged. */
export function handleError(error: unknown, { request, context }: { request: Request; context: AppLoadContext }): void {
  if (!request.signal.aborted) context.answer.tell(error);
}
