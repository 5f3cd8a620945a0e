/** What has just been done, as a short sentence: shown beside the play-head for a moment, and spoken. */
import type { Step } from '@kneader/core';
import type { BenchState } from '../bench-store.ts';
import { counted, readable, withUnit } from '../edits/numbers.ts';

export interface Said {
  readonly sentence: string;
  /** A refusal: spoken at once. */
  readonly isRefusal: boolean;
}

const did = (sentence: string): Said => ({ sentence, isRefusal: false });
const tidy = (value: number) => String(Math.round(value * 100) / 100);
const signed = (value: number) => `${value > 0 ? '+' : '−'}${tidy(Math.abs(value))}`;

/** What the change from one state of the bench to the next says; null where it says nothing. */
export function saidBy(was: BenchState, now: BenchState): Said | null {
  if (was.id !== now.id) return null;
  return bySteps(was, now) ?? byReport(was, now) ?? byCopying(was, now) ?? byView(was, now);
}

function bySteps({ session: was }: BenchState, { session: now }: BenchState): Said | null {
  if (was.at === now.at && was.steps === now.steps) return null;
  if (was.steps === now.steps) {
    const back = now.at < was.at;
    const count = Math.abs(now.at - was.at);
    const step = now.steps[back ? now.at + 1 : now.at];
    const words = back ? 'Undone' : 'Redone';
    return did(count === 1 ? `${words}: ${step?.label ?? ''}` : `${words}: ${counted(count, 'step')}`);
  }
  const step = now.steps[now.at];
  return step && step !== was.steps[was.at] ? did(ofStep(step)) : null;
}

/** What a step did, in the words of the hand that did it. */
function ofStep({ edit, label, options, selection, report }: Step): string {
  const given = (options ?? {}) as Readonly<Record<string, unknown>>;
  const keys = Object.values(selection.keys).reduce((sum, ids) => sum + ids.length, 0);
  if (edit === 'keys.move') {
    const [frames, value] = [Number(given['frames'] ?? 0), Number(given['value'] ?? 0)];
    const way = [
      ...(frames ? [`${signed(frames)} ${Math.abs(frames) === 1 ? 'frame' : 'frames'}`] : []),
      ...(value ? [signed(value)] : []),
    ];
    return `${counted(keys, 'key')} moved${way.length > 0 ? `: ${way.join(', ')}` : ''}`;
  }
  if (edit === 'tangents.set' && typeof given['kind'] === 'string') return `Tangents ${given['kind']}`;
  if (edit === 'keys.add') return 'Keyed here';
  if (edit === 'poses.flip') return 'Pose flipped';
  const first = report?.measures[0];
  if (!first) return label;
  const name = first.name === first.unit ? '' : `${first.name} `;
  const before = first.before === undefined ? '' : `${readable(first.before, first.unit)} → `;
  return `${label}: ${name}${before}${withUnit(first.value, first.unit)}`;
}

function byReport(was: BenchState, { report }: BenchState): Said | null {
  if (report === was.report || report === null) return null;
  const [first] = report.report.findings;
  if (report.report.status === 'refused' && first) return { sentence: first.sentence, isRefusal: true };
  return report.report.status === 'unchanged' ? did('Nothing to change') : null;
}

function byCopying(was: BenchState, now: BenchState): Said | null {
  if (now.pose !== was.pose && now.pose) {
    const controls = new Set(Object.keys(now.pose.values).map((id) => id.slice(0, id.lastIndexOf('.'))));
    return did(`Pose copied: ${counted(controls.size, 'control')}`);
  }
  if (now.clip !== was.clip && now.clip) return did('Keys copied');
  if (now.tangents !== was.tangents && now.tangents) return did('Tangents copied');
  return null;
}

const LOOKS = { before: 'Before', after: 'After', outline: 'Both' } as const;

function byView(was: BenchState, now: BenchState): Said | null {
  if (now.playing !== was.playing)
    return did(now.playing ? 'Playing' : `Stopped at ${Math.round(now.frame)}`);
  if (now.comparison !== was.comparison) return did(LOOKS[now.comparison]);
  if (now.arcs !== was.arcs)
    return did(now.arcs.length === 0 ? 'Arcs off' : `Arcs on: ${now.arcs.join(', ')}`);
  if (now.ghosts !== was.ghosts)
    return did(now.ghosts === 0 ? 'Ghosts off' : `Ghosts: ${now.ghosts} to each side`);
  const [before, after] = [was.session.selection.range, now.session.selection.range];
  if (before !== after && String(Object.values(before ?? {})) !== String(Object.values(after ?? {})))
    return did(after ? `Range ${after.start} to ${after.end}` : 'No range');
  return null;
}
