/** Serves the built application, under a content security policy that lets nothing in from outside. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import fastifyCompress from '@fastify/compress';
import fastifyStatic from '@fastify/static';
import Fastify from 'fastify';
import type { FastifyInstance } from 'fastify';

/** Ant Design writes its styles at run time, hence the one exception. */
const POLICY = [
  "default-src 'self'",
  "script-src 'self'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self'",
  "connect-src 'self' blob:",
  "worker-src 'self'",
  "object-src 'none'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
].join('; ');

/** @param root the folder of the built application */
export async function createApp(root: string): Promise<FastifyInstance> {
  if (!existsSync(join(root, 'index.html')))
    throw new Error(`There is no built application in ${root}: run “npm run build”.`);
  const app = Fastify();
  app.addHook('onSend', (_request, reply, _payload, done) => {
    reply.headers({
      'content-security-policy': POLICY,
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'no-referrer',
    });
    done();
  });
  await app.register(fastifyCompress, { threshold: 1024 });
  await app.register(fastifyStatic, {
    root,
    // Files in assets/ carry a hash in their name; the page itself is asked for again each time.
    setHeaders: (reply, path) => {
      void reply.header(
        'cache-control',
        path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
      );
    },
  });
  // Routes of the application are the page's own business.
  app.setNotFoundHandler((request, reply) => {
    const isPage = request.method === 'GET' && !/\.\w+$/.test(request.url.split('?')[0] ?? '');
    if (isPage) return reply.sendFile('index.html');
    return reply.code(404).type('text/plain').send('Not found');
  });
  return app;
}
