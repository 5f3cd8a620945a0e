/** `tsx server/src/main.ts`: serves app/dist on the loopback address. PORT, default 4173. */
import { fileURLToPath } from 'node:url';
import { createApp } from './app.ts';

const port = Number(process.env['PORT'] || 4173);
const root = fileURLToPath(new URL('../../app/dist', import.meta.url));
try {
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`PORT is “${process.env['PORT']}”; a number from 0 to 65535 is needed.`);
  const app = await createApp(root);
  const address = await app.listen({ host: '127.0.0.1', port });
  console.log(`Kneader is at ${address}`);
} catch (error) {
  const inUse = (error as { code?: string }).code === 'EADDRINUSE';
  console.error(
    inUse
      ? `Port ${port} is taken: set PORT to another one.`
      : error instanceof Error
        ? error.message
        : error,
  );
  process.exit(1);
}
