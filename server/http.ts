/** The web server: security headers, the built pages and their files, and the routes. */
import { randomBytes } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import path from 'node:path';
import { createRequestHandler } from '@react-router/express';
import compression from 'compression';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import type { AppLoadContext, ServerBuild } from 'react-router';
import { ROOT } from './config.ts';
import type { Services } from './services.ts';

const BUILD = path.join(ROOT, 'build');

/** Host names that this server answers to, so that no foreign name can be pointed at it. */
const allowedHost = (host: string | undefined): boolean => {
  const name = (host ?? '').replace(/:\d+$/, '').toLowerCase();
  const extra = (process.env.MOTTREL_HOSTS ?? '').toLowerCase().split(',').filter(Boolean);
  return name === '127.0.0.1' || name === 'localhost' || name === '[::1]' || extra.includes(name);
};

const plain = (response: Response, status: number, message: string) => response.status(status).type('text/plain').send(message);

/** Refuses foreign host names, and writing requests that come from another site's page. */
function guard(request: Request, response: Response, next: NextFunction): void {
  if (!allowedHost(request.headers.host)) {
    plain(response, 421, 'This server does not answer to that name. Set MOTTREL_HOSTS to allow it.');
    return;
  }
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    const site = request.headers['sec-fetch-site'];
    const { origin } = request.headers;
    const foreign = site ? site !== 'same-origin' && site !== 'none' : origin !== undefined && origin !== `${request.protocol}://${request.headers.host}`;
    if (foreign) {
      plain(response, 403, 'This came from another site and was refused. Work in the page of this program itself.');
      return;
    }
  }
  next();
}

export async function buildServer(services: Services): Promise<Server> {
  const build = (await import(path.join(BUILD, 'server', 'index.js'))) as ServerBuild;
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'", (_request, response) => `'nonce-${(response as Response).locals.nonce}'`],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          imgSrc: ["'self'", 'data:', 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      referrerPolicy: { policy: 'same-origin' },
      // Served on loopback without TLS.
      strictTransportSecurity: false,
    }),
  );
  app.use(guard);
  // Event streams must not wait in a compressor, and pictures and zips do not shrink.
  app.use(
    compression({
      filter: (request, response) =>
        !/event-stream|image\/|zip|octet|video/.test(String(response.getHeader('content-type'))) && compression.filter(request, response),
    }),
  );
  app.use('/assets', express.static(path.join(BUILD, 'client', 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(path.join(BUILD, 'client'), { maxAge: '1h' }));
  app.use('/help-pictures', express.static(path.join(ROOT, 'docs', 'screenshots'), { maxAge: '1h', fallthrough: false }));
  const handle = createRequestHandler({
    build,
    mode: 'production',
    getLoadContext: (_request, response): AppLoadContext => ({ services, nonce: response.locals.nonce as string }),
  });
  app.all('/{*path}', handle);
  app.use((error: Error & { status?: number }, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    const status = error.status && error.status < 500 ? error.status : 500;
    if (status === 500) console.error(error);
    plain(response, status, status === 404 ? 'Not found.' : 'Something went wrong in the program itself. Try again.');
  });
  const server = createServer(app);
  // A large file may take long to send.
  server.requestTimeout = 0;
  return server;
}
