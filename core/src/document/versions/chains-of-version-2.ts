/** The relations of versions 1 and 2, which knew limbs only, as chains of their own. */
import { reachOf } from '../../rig/relations/reach.ts';
import type { Chain } from '../../rig/relations/reach.ts';

export const relationsOfChains = (chains: readonly Chain[]): object[] =>
  chains.map((chain) => ({ ...unknownOf(chain), ...reachOf(chain) }));

/** Fields of a chain that no version knows: they are kept on the relation. */
function unknownOf(chain: Chain): object {
  const { id, root, middle, end, target, pole, blend, tip, ...rest } = chain;
  void [id, root, middle, end, target, pole, blend, tip];
  return rest;
}
