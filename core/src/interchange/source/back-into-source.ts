/** A shot back into its character's file, with variants and saved actions as further animations beside it. */
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { ActionJson } from '../../document/action.ts';
import { NOTHING } from '../../document/selection.ts';
import { newShot, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { Source } from '../../document/sources.ts';
import { variantsOf, withVariant } from '../../document/variants.ts';
import { runEdit } from '../../edits/run-edit.ts';
import { writeIntoSource } from '../gltf/write-into-source.ts';
import type { AnimationOut, WrittenSource } from '../gltf/write-into-source.ts';
import type { SourceFile } from './source-files.ts';

export interface BackInto {
  /** What the shot's own animation is called; the one that it came from is replaced, whatever that was called. */
  readonly name: string;
  /** Ids of variants, each under its name. */
  readonly variants: readonly string[];
  /** Mapped onto the character as *Apply action* maps them, each under its name. */
  readonly actions: readonly ActionJson[];
  /** `.glb` or `.gltf`. */
  readonly ending: string;
}

export function backIntoSource(
  shot: Shot,
  source: Source,
  files: readonly SourceFile[],
  { name, variants, actions, ending }: BackInto,
): WrittenSource {
  const findings: Finding[] = [];
  const out: AnimationOut[] = [
    { shot, source, name, ...(source.animation && { index: source.animation.index }) },
    ...variantsOf(shot).flatMap((variant) =>
      variants.includes(variant.id) ? [{ shot: withVariant(shot, variant), source, name: variant.name }] : [],
    ),
  ];
  for (const action of actions) {
    const made = shotOf(shot, action);
    if ('sentence' in made) findings.push(finding('actionNotOnFile', {}, action.name, made.sentence));
    else out.push({ shot: made, source, name: action.name });
  }
  const written = writeIntoSource(files, out, ending);
  return { ...written, findings: [...findings, ...written.findings] };
}

/** The character with nothing but the action; the one reason why it does not fit him. */
function shotOf(shot: Shot, action: ActionJson): Shot | Finding {
  const end = Math.max(
    1,
    Math.round(
      action.length *
        (shot.rate.numerator / shot.rate.denominator) *
        (action.rate.denominator / action.rate.numerator),
    ),
  );
  const bare: Shot = {
    ...newShot(action.name, shot.nodes, shot.relations, shot.rate, { start: 0, end }),
    characters: shot.characters,
  };
  const channels = rigOf(bare).channels.map(({ id }) => id);
  const { shot: made, report } = runEdit(
    'actions.apply',
    bare,
    { ...NOTHING, channels },
    {
      action,
      frame: 0,
      wholeFrames: false,
    },
  );
  return report.status === 'refused' ? report.findings[0]! : { ...made, range: bare.range };
}
