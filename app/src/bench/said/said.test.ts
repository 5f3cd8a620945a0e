import { beforeEach, describe, expect, test } from '@jest/globals';
import { curveOf, openSession } from '@kneader/core';
import { choose, curve, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { bench, useBench } from '../bench-store.ts';
import { saidBy } from './said.ts';

const shot = puppet({ 'hips.ty': curve([0, 1, 10, 5, 20, 2]), 'arm_l.rz': curve([0, 5, 20, 9]) });
let heard: string[] = [];
useBench.subscribe((now, was) => {
  const said = saidBy(was, now);
  if (said) heard.push(`${said.isRefusal ? 'no: ' : ''}${said.sentence}`);
});
const ids = [...curveOf(shot, null, 'hips.ty').ids];
const after = (act: () => void): string[] => {
  heard = [];
  act();
  return heard;
};

beforeEach(() => {
  bench.open('one', openSession(shot), null);
  bench.select(choose({ nodes: ['hips'], keys: { 'hips.ty': [ids[1]!, ids[2]!] } }));
});

describe('what a hand did is said as it did it', () => {
  test('keys moved by how much, tangents by their kind, a pose flipped, keys made', () => {
    expect(after(() => bench.perform('keys.move', { frames: 2, value: -1.5 }))).toEqual([
      '2 keys moved: +2 frames, −1.5',
    ]);
    expect(after(() => bench.perform('tangents.set', { kind: 'flat' }))).toEqual(['Tangents flat']);
    expect(after(() => bench.perform('keys.add', { frame: 4 }))).toEqual(['Keyed here']);
    bench.select(choose({ nodes: ['arm_l', 'arm_r'] }));
    expect(after(() => bench.perform('poses.flip', { frame: 0 }))).toEqual(['Pose flipped']);
  });

  test('an edit with its first figure', () => {
    bench.select(choose({ nodes: ['hips'] }));
    const [line] = after(() => bench.perform('timing.stretch', { factor: 2 }));
    expect(line).toMatch(/^Stretch: .*\d/);
  });

  test('a drag once, when it is let go, and not at all when it is taken back', () => {
    expect(
      after(() => {
        bench.beginGesture('keys.move');
        bench.updateGesture({ frames: 1 });
        bench.updateGesture({ frames: 3 });
        bench.commitGesture();
      }),
    ).toEqual(['2 keys moved: +3 frames']);
    expect(
      after(() => {
        bench.beginGesture('keys.move');
        bench.updateGesture({ frames: 1 });
        bench.cancelGesture();
      }),
    ).toEqual([]);
  });
});

test('undone and redone by name, several at once by their number', () => {
  bench.perform('keys.move', { frames: 2 });
  bench.perform('shot.rename', { name: 'Other' });
  expect(after(bench.undo)).toEqual(['Undone: Rename the shot']);
  expect(after(bench.redo)).toEqual(['Redone: Rename the shot']);
  expect(after(() => bench.goTo(0))).toEqual(['Undone: 2 steps']);
});

test('a refusal is marked as one, and nothing to change is said', () => {
  bench.select(choose({}));
  expect(after(() => bench.perform('markers.set', {}))).toEqual(['no: A new marker needs a frame.']);
  expect(after(() => bench.perform('shot.rename', { name: shot.name }))).toEqual(['Nothing to change']);
});

test('playing, comparing, arcs, ghosts, copies and ranges', () => {
  expect(
    after(() => {
      bench.setPlaying(true);
      bench.setPlaying(false);
      bench.setComparison('before');
      bench.setComparison('after');
      bench.setArcs(['hips']);
      bench.setArcs([]);
      bench.setGhosts(2);
      bench.copyPose();
      bench.select({ ...choose({ nodes: ['hips'] }), range: { start: 2, end: 8 } });
    }),
  ).toEqual([
    ...['Playing', 'Stopped at 0', 'Before', 'After', 'Arcs on: hips', 'Arcs off'],
    ...['Ghosts: 2 to each side', 'Pose copied: 1 control', 'Range 2 to 8'],
  ]);
});

test('another shot is opened in silence', () => {
  expect(after(() => bench.open('two', openSession(shot), null))).toEqual([]);
});
