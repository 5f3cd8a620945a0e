/**
 * The only way into an edit. Fills in defaults, checks options, takes locked channels out of the selection, and checks
 * what comes out. What a user can put right comes back as `refused` with a sentence; a broken rule throws.
 */
import { assert } from '../base/assert.ts';
import { finish } from '../base/work.ts';
import type { Work } from '../base/work.ts';
import { finding, InputError } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { brokenRule, isFinite } from '../curve/validate.ts';
import { problemOf } from '../document/describe-problem.ts';
import {
  hasTargets,
  selectedChannels,
  selectedCurves,
  targetsOf,
  withLivingKeys,
} from '../document/selection.ts';
import type { Selection } from '../document/selection.ts';
import { curveOf, layerOf } from '../document/shot.ts';
import { withNewLayersShown } from '../document/variants.ts';
import { isAlwaysChoice, isChoice } from '../document/switches.ts';
import type { ChannelId, Shot } from '../document/shot.ts';
import { EDITS } from './catalogue.ts';
import { withCarriesAnew } from './placements/carried-on.ts';
import { refused } from './edit.ts';
import type { Edit, Outcome } from './edit.ts';

/** The edit with this id, or null. */
export function findEdit(id: string): Edit | null {
  return EDITS.find((edit) => edit.id === id) ?? null;
}

/** Runs an edit by its id. @param given the options as they come: from a panel, a file, a command line */
export function runEdit(id: string, shot: Shot, selection: Selection, given: unknown = {}): Outcome {
  return finish(startEdit(id, shot, selection, given));
}

/** The same in slices: what takes long can be followed, and left. */
export function* startEdit(
  id: string,
  shot: Shot,
  selection: Selection,
  given: unknown = {},
): Work<Outcome, Shot> {
  const edit = findEdit(id);
  if (edit === null) return refused(shot, selection, finding('unknownEdit', {}, id));
  const parsed = edit.options.strict().safeParse(given);
  if (!parsed.success) {
    const { path, words } = problemOf(parsed.error);
    return refused(shot, selection, finding('badOption', { path }, path || 'options', words));
  }
  const problem = selectionProblem(shot, selection, edit);
  if (problem) return refused(shot, selection, problem);
  const quantities = takesChoices(edit) ? { selection, left: [] } : withoutChoices(shot, selection);
  if (quantities.left.length > 0 && selectedCurves(shot, quantities.selection).length === 0)
    return refused(shot, selection, finding('onlyChoices', {}, quantities.left));
  const open =
    edit.locks === 'strip'
      ? withoutLocked(shot, quantities.selection)
      : { selection: quantities.selection, locked: [] };
  if (open.locked.length > 0 && selectedCurves(shot, open.selection).length === 0) {
    return refused(shot, selection, finding('everythingLocked', {}));
  }
  const refusal = missingNeed(edit, shot, open.selection);
  if (refusal) return refused(shot, selection, refusal);
  const run = yield* runGuarded(edit, shot, open.selection, parsed.data);
  const result = run.shot === shot ? run : withTheRestOfTheShot(shot, run);
  const beyond = beyondNumbers(result);
  if (beyond !== null)
    return refused(shot, selection, finding('valuesTooLarge', { channel: beyond }, beyond));
  checkOutcome(edit.id, shot, result);
  const findings: Finding[] = [...result.report.findings];
  if (result.report.status === 'unchanged' && findings.length === 0)
    findings.push(...tooFewKeys(edit, shot, open.selection));
  if (open.locked.length > 0) findings.push(finding('lockedChannels', {}, open.locked));
  if (quantities.left.length > 0 && result.report.status === 'changed')
    findings.push(finding('choicesLeft', {}, quantities.left));
  const kept = withTheRest(selection, open.selection, result.selection);
  const living = result.report.status === 'changed' ? withLivingKeys(result.shot, kept) : kept;
  return { ...result, selection: living, report: { ...result.report, findings } };
}

/** What goes along with an edit, whichever it is: variants show its new layers, and placements that carry on begin where the figure stands now. */
function withTheRestOfTheShot(before: Shot, run: Outcome): Outcome {
  const shown = withNewLayersShown(before, run.shot);
  const { shot, findings } = withCarriesAnew(before, shown, run.time !== undefined);
  return { ...run, shot, report: { ...run.report, findings: [...run.report.findings, ...findings] } };
}

/** Why an edit of curves found nothing to do, where that is since each has but one key. */
function tooFewKeys({ group, needs, options }: Edit, shot: Shot, selection: Selection): Finding[] {
  const bends = group === 'clean' || group === 'tangents' || group === 'timing';
  if (!bends || (!needs && !('scope' in options.shape))) return [];
  const chosen = targetsOf(shot, selection);
  const single = chosen.filter(({ curve }) => curve.times.length === 1).map(({ channel }) => channel);
  return single.length > 0 && single.length === chosen.length ? [finding('tooFewKeys', {}, single)] : [];
}

/** What an edit made of the selection; where it left a part alone, that is what was given, locked channels and all. */
function withTheRest(given: Selection, open: Selection, made: Selection): Selection {
  if (made === open) return given;
  return {
    nodes: made.nodes === open.nodes ? given.nodes : made.nodes,
    channels: made.channels === open.channels ? given.channels : made.channels,
    keys: made.keys === open.keys ? given.keys : made.keys,
    range: made.range,
    layer: made.layer,
  };
}

/** Reading an action or a pose inside the options may still refuse. */
function* runGuarded(edit: Edit, shot: Shot, selection: Selection, options: object): Work<Outcome, Shot> {
  try {
    const result = edit.run(shot, selection, options as never);
    return 'next' in result ? yield* result : result;
  } catch (error) {
    if (error instanceof InputError) return refused(shot, selection, error.finding);
    throw error;
  }
}

/** What the edit needs and the selection does not hold, or null. */
function missingNeed({ needs }: Edit, shot: Shot, selection: Selection): Finding | null {
  if (!needs) return null;
  const meant = needs === 'channels' ? selectedChannels(shot, selection) : selectedCurves(shot, selection);
  if (meant.length === 0)
    return finding(
      'nothingSelected',
      {},
      needs === 'channels' || needs === 'curves' ? 'controls or channels' : 'controls, channels or keys',
    );
  const chosen = selection.range !== null || Object.values(selection.keys).some((ids) => ids.length > 0);
  if (needs === 'chosen' && !chosen) return finding('noKeysChosen', {});
  return needs === 'channels' || needs === 'curves' || hasTargets(shot, selection)
    ? null
    : finding('noKeysInSelection', {});
}

function selectionProblem(shot: Shot, selection: Selection, { locks }: Edit): Finding | null {
  const { layer, range } = selection;
  if (layer !== null) {
    const found = layerOf(shot, layer);
    if (!found) return finding('unknownPass', {}, layer);
    if (found.locked && locks !== 'none') return finding('lockedPass', {}, found.name);
  }
  if (range && !(range.end >= range.start)) return finding('badRange', {}, range.start, range.end);
  return null;
}

/** Groups whose edits are about quantities, and leave channels that choose as they are unless they say otherwise. */
const OF_QUANTITIES: ReadonlySet<string> = new Set(['clean', 'tangents', 'keys']);
const takesChoices = ({ group, choices, needs }: Edit): boolean =>
  choices === 'taken' || !needs || !OF_QUANTITIES.has(group);

/** The selection without channels that choose and have keys, and which those were; a weight that is only switched may be worked on by itself. */
function withoutChoices(shot: Shot, selection: Selection): { selection: Selection; left: string[] } {
  const chosen = selectedCurves(shot, selection);
  const keyed = chosen.filter((id) => curveOf(shot, selection.layer, id).times.length > 0);
  const choices = keyed.filter((id) => isChoice(shot, id));
  const alone = choices.length === keyed.length;
  const left = alone ? choices.filter((id) => isAlwaysChoice(shot, id)) : choices;
  if (left.length === 0) return { selection, left };
  return { selection: without(selection, chosen, new Set(left)), left };
}

const without = (
  selection: Selection,
  chosen: readonly ChannelId[],
  left: ReadonlySet<ChannelId>,
): Selection => ({
  ...selection,
  nodes: [],
  channels: chosen.filter((id) => !left.has(id)),
  keys: Object.fromEntries(Object.entries(selection.keys).filter(([id]) => !left.has(id))),
});

/** The selection without locked channels, and which those were. */
function withoutLocked(shot: Shot, selection: Selection): { selection: Selection; locked: string[] } {
  if (shot.locked.length === 0) return { selection, locked: [] };
  const locks = new Set(shot.locked);
  const chosen = selectedCurves(shot, selection);
  const locked = chosen.filter((id) => locks.has(id));
  if (locked.length === 0) return { selection, locked };
  return { selection: without(selection, chosen, locks), locked };
}

/** The first channel with a value, a frame or a slope that is no number any more, or null. */
function beyondNumbers({ shot, report }: Outcome): ChannelId | null {
  const layers = [null, ...shot.layers.map((pass) => pass.id)];
  return (
    report.touched.find((channel) => layers.some((layer) => !isFinite(curveOf(shot, layer, channel)))) ?? null
  );
}

function checkOutcome(id: string, before: Shot, result: Outcome): void {
  const { shot, report } = result;
  assert(
    (report.status === 'changed') === (shot !== before),
    `${id} says ${report.status} and does otherwise`,
  );
  if (report.status !== 'changed') return;
  const layers = [null, ...shot.layers.map((pass) => pass.id)];
  for (const channel of report.touched) {
    for (const layer of layers) {
      const broken = brokenRule(curveOf(shot, layer, channel));
      assert(broken === null, `${id} left ${channel} broken: ${broken}`);
    }
    const locked =
      before.locked.includes(channel) && curveOf(before, null, channel) !== curveOf(shot, null, channel);
    assert(!locked, `${id} changed the locked channel ${channel}`);
  }
  for (const pass of shot.layers)
    assert(brokenRule(pass.weight) === null, `${id} left the weight of ${pass.name} broken`);
}
