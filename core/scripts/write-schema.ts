/** Writes docs/shot-file.schema.json from the code: `npm run schema`. */
import { writeFileSync } from 'node:fs';
import { shotFileSchemaText } from '../src/document/parts/parts.ts';

writeFileSync(new URL('../../docs/shot-file.schema.json', import.meta.url), shotFileSchemaText());
