/** Body parts by what they are, not by what they are called: the arm of the left is that of every figure. */
import type { BodyPart, Node, Side } from '../rig/node.ts';
import type { Shot } from '../document/shot.ts';

export interface Role {
  readonly part: BodyPart;
  readonly side: Side;
}

const keyOf = ({ part, side }: Role) => `${side} ${part}`;

/** The roles of nodes, each once, in the order in which they come. */
export function rolesOf(nodes: readonly Pick<Node, 'part' | 'side'>[]): Role[] {
  const found = new Map<string, Role>();
  for (const { part, side } of nodes) found.set(keyOf({ part, side }), { part, side });
  return [...found.values()];
}

/** `left arm`, `torso`. */
export const roleWords = ({ part, side }: Role): string => (side === 'centre' ? part : `${side} ${part}`);

/** The controls that play one of the roles, and the roles that nobody plays. */
export function playing(
  { nodes }: Pick<Shot, 'nodes'>,
  roles: readonly Role[],
): { readonly nodes: readonly string[]; readonly missing: readonly Role[] } {
  const wanted = new Set(roles.map(keyOf));
  const found = nodes.filter((node) => node.channels.length > 0 && wanted.has(keyOf(node)));
  const there = new Set(found.map(keyOf));
  return { nodes: found.map(({ id }) => id), missing: roles.filter((role) => !there.has(keyOf(role))) };
}
