/** Root: channels that choose. Whatever is done to all channels of a control that follows several things, its switch stays what it is, and it does not jump. */
import { describe, expect, test } from '@jest/globals';
import { NOTHING } from '../../document/selection.ts';
import { stackOf } from '../../evaluation/evaluation.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { capturePose } from '../../evaluation/stored-pose.ts';
import { curve, choose, filter, pass } from '../../testing/shot-literals.ts';
import { done, follower } from '../../testing/spaces.ts';
import { runEdit } from '../run-edit.ts';

const { shot: made, node, relation } = follower(2);
const shot = done(made, 'spaces.switch', { relation: relation.id, to: 2, frame: 12 });
const space = relation.switch!;
const all = choose({ nodes: [node] });
const shown = (of: Shot, frame: number) => stackOf(of).top[rigOf(of).channelIndex(space)]!.at(frame);

describe('edits of all channels of the control', () => {
  test.each<[string, object]>([
    ['tangents.set', { kind: 'smooth' }],
    ['tangents.set', { kind: 'linear' }],
    ['clean.resample', { every: 1 }],
    ['clean.smooth', {}],
    ['clean.thin', { rotation: 5, position: 5 }],
    ['keys.move', { value: 0.5, frames: 0 }],
    ['keys.transform', { scaleValue: 0.5 }],
    ['timing.toSpline', {}],
    ['timing.loop', { times: 1, blend: 6 }],
  ])('%s %j leaves the switch as it is', (edit, options) => {
    const { shot: after, report } = runEdit(edit, shot, all, options);
    expect([edit, report.findings.filter(({ code }) => code === 'badOption')]).toEqual([edit, []]);
    const [was, is] = [shot, after].map((one) => curveOf(one, null, space));
    expect([...is!.times].filter((time) => time <= 24)).toEqual(
      [...was!.times].concat(edit === 'timing.loop' ? [24] : []),
    );
    for (let frame = 0; frame < 24; frame += 0.2) expect(shown(after, frame)).toBe(shown(shot, frame));
  });

  test.each<[string, object]>([
    ['keys.delete', {}],
    ['keys.deleteKeepingShape', {}],
  ])('%s keeps its keys, and says so', (edit, options) => {
    const { shot: after, report } = runEdit(edit, shot, { ...all, range: { start: 0, end: 24 } }, options);
    expect([...curveOf(after, null, space).times]).toEqual([...curveOf(shot, null, space).times]);
    expect(report.findings.map(({ code }) => code)).toContain('choicesLeft');
  });

  test('a pose of before the switch, pasted after it, does not switch back, and says what it could not do', () => {
    const pose = capturePose(shot, all, 5);
    const { shot: after, report } = runEdit('poses.paste', shot, NOTHING, { pose, frame: 18 });
    expect(shown(after, 18)).toBe(2);
    expect(report.findings.map(({ code }) => code)).toContain('switchesNotPasted');
  });

  test('the rest pose does not switch', () => {
    const { shot: after } = runEdit('poses.rest', shot, all, { frame: 18 });
    expect(shown(after, 18)).toBe(2);
  });

  test('the switch alone is refused with a sentence', () => {
    const { report } = runEdit('keys.move', shot, choose({ channels: [space] }), { frames: 3 });
    expect([report.status, report.findings[0]!.code]).toEqual(['refused', 'onlyChoices']);
  });
});

describe('layers over the control', () => {
  const row = rigOf(shot).indexOf(node);
  const curves = (name: string, of: ReturnType<typeof curve>) => {
    const table: ({ [name: string]: typeof of } | undefined)[] = Array.from({ length: row });
    table[row] = { [name]: of };
    return table;
  };
  const name = space.slice(node.length + 1);

  test.each(['spring', 'smooth', 'shift', 'wobble', 'step'])('%s never makes anything of it', (kind) => {
    const under = {
      ...shot,
      layers: [filter(kind, [node], kind === 'wobble' ? { other: 5, still: true } : {})],
    };
    for (let frame = 0; frame <= 24; frame += 0.2) expect(shown(under, frame)).toBe(shown(shot, frame));
  });

  test('an offset is no sum, and a replace pass is all or nothing', () => {
    const added = { ...shot, layers: [pass('a', { members: [node], curves: curves(name, curve([0, 1])) })] };
    expect(shown(added, 3)).toBe(shown(shot, 3));
    const half = (weight: number) => ({
      ...shot,
      layers: [
        pass('r', {
          kind: 'replace',
          members: [node],
          weight: curve([0, weight]),
          curves: curves(name, curve([0, 1])),
        }),
      ],
    });
    expect([shown(half(0.4), 3), shown(half(0.6), 3)]).toEqual([shown(shot, 3), 1]);
  });
});
