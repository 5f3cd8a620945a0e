import { EDITS } from '@kneader/core';
import { z } from 'zod';
import type { Output } from './output.ts';

/** `kneader edits [--json]` */
export function listEdits(json: boolean, { print }: Output): void {
  if (json) {
    const list = EDITS.map(({ id, title, summary, group, options }) => ({
      id,
      title,
      summary,
      group,
      options: z.toJSONSchema(options, { io: 'input' }),
    }));
    print(JSON.stringify(list, null, 2));
    return;
  }
  for (const { id, summary } of EDITS) print(`${id.padEnd(22)} ${summary}`);
}
