/** Imported before anything that uses Zod: the content security policy allows no code made at run time. */
import { config } from 'zod';

config({ jitless: true });
