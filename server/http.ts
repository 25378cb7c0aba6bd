/** The web server: security headers, the built pages and their files, and the routes. */
import { randomBytes, randomUUID } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { createRequestHandler } from '@react-router/express';
import compression from 'compression';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { AppLoadContext, ServerBuild } from 'react-router';
import { answerWith } from './answer.ts';
import { ROOT } from './root.ts';
import type { Services } from './services.ts';

const PAGES = path.join(ROOT, 'build', 'pages');

/** Host names that this server answers to, so that no foreign name can be pointed at it. */
const allowedHost = (host: string | undefined, extra: readonly string[]): boolean => {
  const name = (host ?? '').replace(/:\d+$/, '').toLowerCase();
  return name === '127.0.0.1' || name === 'localhost' || name === '[::1]' || extra.includes(name);
};

const plain = (response: Response, status: number, message: string) => response.status(status).type('text/plain').send(message);

/** Takes the whole address that clients of a proxy send (RFC 9112, 3.2.2) as the path in it; refuses what is neither. */
function onlyPaths(request: Request, response: Response, next: NextFunction): void {
  if (request.url.startsWith('/')) {
    next();
    return;
  }
  if (!URL.canParse(request.url)) {
    plain(response, 404, 'There is nothing at this address.');
    return;
  }
  const { host, pathname, search } = new URL(request.url);
  request.headers.host = host;
  request.url = pathname + search;
  request.originalUrl = request.url;
  next();
}

/** One line for each request: pictures and pages are read by the hundred, so only what changes something is told by default. */
const requestLog = ({ log }: Services) =>
  pinoHttp({
    logger: log,
    genReqId: () => randomUUID().slice(0, 8),
    quietReqLogger: true,
    customLogLevel: (request, response, error) => (error || response.statusCode >= 500 ? 'error' : request.method === 'GET' ? 'debug' : 'info'),
    serializers: {
      req: ({ id, method, url }: { id: string; method: string; url: string }) => ({ id, method, url }),
      res: ({ statusCode }: { statusCode: number }) => ({ status: statusCode }),
    },
  });

/** Refuses foreign host names, and writing requests that come from another site's page. */
const guard =
  (hosts: readonly string[]) =>
  (request: Request, response: Response, next: NextFunction): void => {
    if (!allowedHost(request.headers.host, hosts)) {
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
  };

export async function buildServer(services: Services): Promise<Server> {
  const build = (await import(pathToFileURL(path.join(PAGES, 'server', 'index.js')).href)) as ServerBuild;
  const app = express();
  app.disable('x-powered-by');
  app.use(requestLog(services), onlyPaths);
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
  app.use(guard(services.config.hosts));
  app.get('/healthz', async (_request, response) => {
    const state = await services.state();
    response
      .status(state.database ? 200 : 503)
      .set('Cache-Control', 'no-store')
      .json(state);
  });
  // Event streams must not wait in a compressor, and pictures and zips do not shrink.
  app.use(
    compression({
      filter: (request, response) =>
        !/event-stream|image\/|zip|octet|video|audio/.test(String(response.getHeader('content-type'))) && compression.filter(request, response),
    }),
  );
  app.use('/assets', express.static(path.join(PAGES, 'client', 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(path.join(PAGES, 'client'), { maxAge: '1h' }));
  app.use('/help-pictures', express.static(path.join(ROOT, 'docs', 'screenshots'), { maxAge: '1h', fallthrough: false }));
  // Files that are played are asked for in pieces.
  for (const of of ['sound', 'waveform'] as const)
    app.get(`/plates/:plateId/${of}`, async (request, response) => {
      const file = await services.shots.soundOf(request.params.plateId, of).catch((error: unknown) => error as Error);
      if (typeof file === 'string') return response.sendFile(file, { immutable: true, maxAge: '1y' });
      const { status, ...told } = answerWith(services.log).tell(file);
      return response.status(status).json(told);
    });
  const handle = createRequestHandler({
    build,
    mode: 'production',
    getLoadContext: (request, response): AppLoadContext => ({ services, answer: answerWith(request.log), nonce: response.locals.nonce as string }),
  });
  app.all('/{*path}', handle);
  app.use((error: Error & { status?: number }, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    const status = error.status && error.status < 500 ? error.status : 500;
    if (status === 500) services.log.error({ err: error }, 'A request failed');
    plain(response, status, status === 404 ? 'Not found.' : 'Something went wrong in the program itself. Try again.');
  });
  const server = createServer(app);
  // A large file may take long to send.
  server.requestTimeout = 0;
  return server;
}
