/** Selection sets, markers, tags. */
import { describe, expect, test } from '@jest/globals';
import { castShot } from '../../document/cast.ts';
import { markerNear, markersOf, membersOf, selectionSetsOf, tagsOf } from '../../document/marks.ts';
import type { Shot } from '../../document/shot.ts';
import { FORMATS } from '../../interchange/formats.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { choose, curve, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const base = puppet({ 'hips.ty': curve([0, 1, 24, 5]) });
const run = (shot: Shot, id: string, options: object, nodes: string[] = []) =>
  runEdit(id, shot, choose({ nodes }), options);
const sentences = (shot: Shot, id: string, options: object, nodes: string[] = []) =>
  run(shot, id, options, nodes).report.findings.map(({ sentence }) => sentence);
const frames = (shot: Shot) => markersOf(shot).map(({ name, frame }) => [name, frame]);

const marked = [{ frame: 18, name: 'Down' }, { frame: 6, name: 'Up', colour: 5 }, { frame: 11.5 }].reduce(
  (shot, options) => run(shot, 'markers.set', options).shot,
  base,
);

describe('markers', () => {
  test('stand in the order of time, with ids of their own, and come back from a file', () => {
    expect(frames(marked)).toEqual([
      ['Up', 6],
      ['Marker 1', 11.5],
      ['Down', 18],
    ]);
    expect(new Set(markersOf(marked).map(({ id }) => id)).size).toBe(3);
    expect(markersOf(readShotFile(writeShotFile(marked)))).toEqual(markersOf(marked));
    expect(markersOf(marked)[0]!.colour).toBe(5);
  });

  test('go through time as what lies on their frames does', () => {
    const { shot: twice } = run(marked, 'timing.stretch', { factor: 2 });
    expect(frames(twice)).toEqual([
      ['Up', 12],
      ['Marker 1', 23],
      ['Down', 36],
    ]);
    const { shot: longer } = run(marked, 'timing.stretch', { factor: 1.3 });
    expect(frames(longer).map(([, frame]) => frame)).toEqual([8, expect.closeTo((11.5 * 31) / 24, 9), 23]);
    const { shot: back } = run(marked, 'timing.reverse', {});
    expect(frames(back)).toEqual([
      ['Down', 6],
      ['Marker 1', 12.5],
      ['Up', 18],
    ]);
    const { shot: half } = run(marked, 'timing.setShot', { rate: 12 });
    expect(frames(half)).toEqual([
      ['Up', 3],
      ['Marker 1', 5.75],
      ['Down', 9],
    ]);
  });

  test('those on frames that are taken out are gone, and named', () => {
    const { shot, report } = runEdit(
      'timing.removeTime',
      marked,
      choose({ range: { start: 8, end: 13 } }),
      {},
    );
    expect(frames(shot).map(([name]) => name)).toEqual(['Up', 'Down']);
    expect(report.findings.map(({ sentence }) => sentence)).toContain(
      '1 marker stood on frames that are gone: Marker 1.',
    );
  });

  test('are changed and removed one by one, or those of a range', () => {
    const [up] = markersOf(marked);
    expect(frames(run(marked, 'markers.set', { marker: up!.id, frame: 12 }).shot)[1]).toEqual(['Up', 12]);
    const later = run(marked, 'markers.set', { marker: up!.id, frame: 20, name: 'Landing' }).shot;
    expect(frames(later).at(-1)).toEqual(['Landing', 20]);
    expect(run(later, 'markers.set', { marker: up!.id, frame: 20 }).report.status).toBe('unchanged');
    const part = runEdit('markers.remove', marked, choose({ range: { start: 5, end: 12 } }), {}).shot;
    expect(frames(part)).toEqual([['Down', 18]]);
    expect(run(marked, 'markers.remove', {}).shot.markers).toBeUndefined();
    expect(sentences(marked, 'markers.set', { marker: 'nobody', frame: 2 })[0]).toMatch(/no marker “nobody”/);
    expect(sentences(marked, 'markers.set', { frame: 99 })).toEqual([
      'The marker would be outside the shot.',
    ]);
    expect(sentences(marked, 'markers.set', {})).toEqual(['A new marker needs a frame.']);
  });

  test('the nearest is found within reach', () => {
    expect(markerNear(markersOf(marked), 8, 2)?.name).toBe('Up');
    expect(markerNear(markersOf(marked), 8.9, 3)?.name).toBe('Marker 1');
    expect(markerNear(markersOf(marked), 8, 1.9)).toBeNull();
  });
});

describe('selection sets', () => {
  const arms = run(base, 'sets.save', { name: 'Arms' }, ['arm_r', 'arm_l']).shot;
  const two = run(arms, 'sets.save', {}, ['hips']).shot;
  const [first, second] = selectionSetsOf(two);

  test('keep what is selected, with the first free digit', () => {
    expect([first!.name, first!.digit, second!.name, second!.digit]).toEqual(['Arms', 1, 'Set 1', 2]);
    expect(membersOf(two, first!)).toEqual(['arm_l', 'arm_r']);
    expect(sentences(base, 'sets.save', { name: 'None' })[0]).toMatch(/Nothing is selected/);
    expect(sentences(two, 'sets.save', { name: 'Arms' }, ['hips'])[0]).toMatch(/one called “Arms” already/);
  });

  test('a digit goes over to the set that asks for it, which is said; 0 takes it away', () => {
    const { shot, report } = run(two, 'sets.save', { set: second!.id, digit: 1 });
    expect(selectionSetsOf(shot).map(({ digit }) => digit)).toEqual([undefined, 1]);
    expect(report.findings[0]!.sentence).toMatch(/“Arms” has no digit/);
    const without = run(shot, 'sets.save', { set: second!.id, digit: 0 }).shot;
    expect(selectionSetsOf(without)[1]!.digit).toBeUndefined();
  });

  test('are renamed without being emptied, and refilled only when asked', () => {
    const named = run(two, 'sets.save', { set: first!.id, name: 'Both' }, ['hips']).shot;
    expect(selectionSetsOf(named)[0]).toEqual({ ...first!, name: 'Both' });
    const refilled = run(named, 'sets.save', { set: first!.id, refill: true }, ['hand_l']).shot;
    expect(selectionSetsOf(refilled)[0]!.nodes).toEqual(['hand_l']);
    expect(run(two, 'sets.remove', { set: first!.id }).shot.selectionSets).toEqual([second]);
  });

  test('of a set that reaches beyond its character what is there goes along', () => {
    const crate = { ...two.nodes[0]!, id: 'crate', character: null, part: 'prop' as const, pair: null };
    const with_ = { ...two, nodes: [...two.nodes, crate] };
    const wide = run(with_, 'sets.save', { name: 'Wide' }, ['hips', 'crate']).shot;
    const cast = castShot('New', [{ shot: wide, characters: [two.nodes[0]!.character] }], two.rate, 24);
    expect(selectionSetsOf(cast).at(-1)!.nodes).toEqual(['hips']);
  });

  test('come back from a file, and go with their character into a new shot', () => {
    expect(selectionSetsOf(readShotFile(writeShotFile(two)))).toEqual([first, second]);
    const cast = castShot('New', [{ shot: two, characters: [two.nodes[0]!.character] }], two.rate, 24);
    expect(selectionSetsOf(cast).map(({ name, nodes }) => [name, nodes.length])).toEqual([
      ['Arms', 2],
      ['Set 1', 1],
    ]);
  });
});

test('a file that is no shot file says what it does not keep, by number', () => {
  const all = run(run(marked, 'sets.save', {}, ['hips']).shot, 'shot.tag', { tags: ['a', 'b'] }).shot;
  for (const { ending, lost } of FORMATS) {
    const said = lost(all).map(({ sentence }) => sentence);
    const words = 'Only a shot file keeps these: 3 markers, 1 selection set, 2 tags.';
    // A zip of a shot has its shot file in it.
    if (/^\.kneader|\.zip$/.test(ending)) expect(said).toEqual([]);
    else expect([ending, said]).toEqual([ending, expect.arrayContaining([words])]);
    expect(lost(base).some(({ code }) => code === 'marksStay')).toBe(false);
  }
});

test('tags stand once each, and none is no part of the file', () => {
  const tagged = run(base, 'shot.tag', { tags: ['b', 'a', 'b'] }).shot;
  expect(tagsOf(tagged)).toEqual(['b', 'a']);
  expect(run(tagged, 'shot.tag', { tags: ['b', 'a'] }).report.status).toBe('unchanged');
  expect(writeShotFile(run(tagged, 'shot.tag', {}).shot)).not.toMatch(/"tags"/);
});
