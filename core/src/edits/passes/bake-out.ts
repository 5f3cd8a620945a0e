/** Bake out: what shows, as a shot of its own without any layer. The shot itself stays as it is. */
import { z } from 'zod';
import { rising } from '../../base/frames.ts';
import type { Work } from '../../base/work.ts';
import { timesWithRepeats } from '../../curve/repeated-times.ts';
import { shotToJson } from '../../document/parts/shot-json.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import type { Selection } from '../../document/selection.ts';
import { defineEdit, outcome } from '../edit.ts';
import type { Outcome } from '../edit.ts';
import { bake, bakeOptions, movedAlike, repeatsEnded, timesOf } from '../shared/bake.ts';
import type { Baked, BakeWishes } from '../shared/bake.ts';

export const bakeOutName = z
  .string()
  .trim()
  .max(200)
  .default('')
  .meta({ title: 'Name', description: 'Of the new shot; empty: the name of this one, and what was baked.' });

export const bakeOut = defineEdit({
  id: 'passes.bakeOut',
  title: 'Bake out',
  summary: 'Writes what shows to a shot of its own, in plain keys; this one stays as it is.',
  words: 'layer flatten export new shot result',
  group: 'passes',
  worksOn: 'layer',
  locks: 'none',
  options: z.object({ name: bakeOutName, ...bakeOptions }),
  *run(shot, selection, { name, ...wishes }) {
    return yield* bakedOut(shot, shot, selection, name || `${shot.name}, baked`, wishes);
  },
});

/** @param shown the shot whose look is baked: the same with another stack, perhaps */
export function* bakedOut(
  shot: Shot,
  shown: Shot,
  selection: Selection,
  name: string,
  wishes: BakeWishes,
): Work<Outcome> {
  const { base, levels, top } = stackOf(shown);
  const baked = new Map<ChannelId, Baked>();
  rigOf(shot).channels.forEach(({ id, node, name: channel }, c) => {
    if (top[c] === base[c]) return;
    const own = shown.curves[node]?.[channel];
    const keyed = own ? timesWithRepeats(own, shown.range) : [];
    const layered = rising(...levels.map(({ layer }) => timesOf(shown, layer, id)));
    baked.set(id, {
      shown: top[c]!,
      times: rising(keyed, layered),
      exact: own ? movedAlike(shown, own, base[c]!, top[c]!, layered) : null,
    });
  });
  const bare = { ...shown, name, layers: [], variants: [] };
  const {
    shot: made,
    curves,
    measures,
    findings: strays,
  } = yield* bake(shown, baked, wishes, (curves) => withCurves(bare, null, curves));
  let keys = 0;
  for (const curve of curves.values()) keys += curve.times.length;
  return outcome(shot, shot, selection, {
    made: shotToJson(made),
    findings: [...strays, ...repeatsEnded(baked, (id) => curveOf(shown, null, id))],
    measures: [
      { name: 'channels baked', value: curves.size, unit: '' },
      { name: 'keys', value: keys, unit: '' },
      ...measures,
    ],
  });
}
