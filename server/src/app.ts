/** Serves the built application, under a content security policy that lets nothing in from outside. */
import { existsSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import fastifyCompress from '@fastify/compress';
import fastifyStatic from '@fastify/static';
import fastifyWebsocket from '@fastify/websocket';
import Fastify from 'fastify';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { feedOptions, sendFeed } from './feed.ts';

/** Ant Design writes its styles at run time, hence the one exception. */
const POLICY = [
  "default-src 'self'",
  // Shapes of characters may be packed: what unpacks them is WebAssembly, in workers that three makes.
  "script-src 'self' 'wasm-unsafe-eval'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  // Films that somebody looks at beside a shot.
  "media-src 'self' blob:",
  "font-src 'self'",
  "connect-src 'self' blob:",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'none'",
  "form-action 'none'",
  "frame-ancestors 'none'",
].join('; ');

const HEADERS = {
  'content-security-policy': POLICY,
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
};

/** The names under which this machine calls itself: a page elsewhere that has its own name point here is not answered. */
const OWN_NAMES = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

/** @param root the folder of the built application */
export async function createApp(root: string): Promise<FastifyInstance> {
  if (!existsSync(join(root, 'index.html')))
    throw new Error(`There is no built application in ${root}: run “npm run build”.`);
  const app = Fastify({
    // An address that cannot be read comes by none of the hooks.
    frameworkErrors: (error, _request, reply) => {
      (reply as FastifyReply)
        .code(error.statusCode ?? 400)
        .headers(HEADERS)
        .type('text/plain')
        .send('This address cannot be read.');
    },
  });
  app.addHook('onRequest', (request, reply, done) => {
    reply.headers(HEADERS);
    if (OWN_NAMES.test(request.headers.host ?? '')) done();
    else
      void reply.code(421).type('text/plain').send('Kneader answers on this machine only, under localhost.');
  });
  await app.register(fastifyCompress, { threshold: 1024 });
  await app.register(fastifyStatic, {
    root,
    // Files in assets/ carry a hash in their name; the page itself is asked for again each time.
    setHeaders: (reply, path) => {
      void reply.header(
        'cache-control',
        relative(root, path).startsWith(`assets${sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache',
      );
    },
  });
  await app.register(fastifyWebsocket, { options: { maxPayload: 1024 } });
  app.get('/feed', { websocket: true }, (socket, request) => {
    // A page from elsewhere may open a socket to any address: it is told by where it came from.
    const { origin } = request.headers;
    if (origin !== undefined && !OWN_NAMES.test(origin.replace(/^https?:\/\//, ''))) {
      socket.close(1008, 'from elsewhere');
      return;
    }
    sendFeed(socket, feedOptions(request.url));
  });
  // Routes of the application are the page's own business.
  app.setNotFoundHandler((request, reply) => {
    const isPage = request.method === 'GET' && !/\.\w+$/.test(request.url.split('?')[0] ?? '');
    if (isPage) return reply.sendFile('index.html');
    return reply.code(404).type('text/plain').send('Not found');
  });
  return app;
}
