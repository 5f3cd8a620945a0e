/** What of a shot a table of values cannot hold. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Shot } from '../../document/shot.ts';

/** Who hangs on whom: values stay, places do not. */
export const lostInCsv = ({ nodes, relations }: Shot): Finding[] =>
  nodes.some(({ parent }) => parent !== null) || relations.length > 0
    ? [finding('csvNoRig', {}, nodes.length, relations.length)]
    : [];
