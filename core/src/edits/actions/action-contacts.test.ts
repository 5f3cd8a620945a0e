/** Contacts go where the motion goes that they stand in: saved, laid as keys, placed, flipped, onto another figure. */
import { describe, expect, test } from '@jest/globals';
import { nightRound } from '../../demo/night-round.ts';
import { overThePuddle } from '../../demo/over-the-puddle.ts';
import { ovenDoor } from '../../demo/oven-door.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { measureContacts } from '../../bodies/contact-measures.ts';
import { solesOf } from '../../bodies/soles.ts';
import type { ActionJson } from '../../document/action.ts';
import { contactsOf, ownContacts } from '../../document/contacts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { NOTHING } from '../../document/selection.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { runEdit } from '../run-edit.ts';

const leap = runEdit('contacts.find', overThePuddle(), NOTHING, {}).shot;
const everything = { ...NOTHING, nodes: leap.nodes.map(({ id }) => id) };
const spans = (of: Shot) =>
  contactsOf(of)
    .map(({ node, point, start, end }) => `${node} ${point} ${start}–${end}`)
    .sort();
const saved = (range = { start: 4, end: 40 }): ActionJson =>
  runEdit('actions.save', leap, { ...everything, range }, { name: 'Leap' }).made as ActionJson;
const action = saved();
const place = (options: object = {}, shot: Shot = nightRound()) =>
  runEdit('actions.place', shot, NOTHING, { action, frame: 20, ...options }).shot;
const blockOf = (shot: Shot) => shot.layers.find(({ kind }) => kind === 'placement')!;

test('what stands in the range is saved, cut at its ends, frames from its start', () => {
  const known = contactsOf(leap);
  expect(action.contacts).toHaveLength(known.filter(({ start, end }) => start < 40 && end > 4).length);
  for (const one of action.contacts!) {
    const was = known.find(
      ({ node, point, start, end }) =>
        node === one.node && point === one.point && start <= one.start + 4 && end >= one.end + 4,
    );
    expect(was?.at).toEqual(one.at);
    expect([0, was!.start - 4]).toContain(one.start);
    expect([36, was!.end - 4]).toContain(one.end);
  }
  // Of the arms alone nothing stands.
  const arms = runEdit(
    'actions.save',
    leap,
    { ...NOTHING, nodes: ['hand_goal_l', 'forearm_l'] },
    { name: 'Arm' },
  );
  expect((arms.made as ActionJson).contacts).toBeUndefined();
});

describe('laid as keys', () => {
  test('at its frame, in seconds; what stood there of the same points gives way, and no more', () => {
    const slow: Shot = { ...leap, rate: { numerator: 30, denominator: 1 } };
    const { shot, report } = runEdit('actions.apply', slow, NOTHING, { action, frame: 40 });
    expect(report.findings.map(({ code }) => code)).toContain('contactsLaid');
    const laid = ownContacts(shot).filter(({ end }) => end > 41);
    const there = action.contacts!.map(
      ({ node, point, start, end }) =>
        `${node} ${point} ${Math.round(40 + start * 1.25)}–${Math.round(40 + end * 1.25)}`,
    );
    // Where one begins as another of its point ends they are one.
    for (const { node, point, start, end } of laid)
      expect(there.some((one) => one.startsWith(`${node} ${point}`) && one.endsWith(`–${end}`))).toBe(
        start >= 40 || end >= 40,
      );
    for (const one of ownContacts(slow).filter(({ end }) => end < 40))
      expect(ownContacts(shot)).toContainEqual(one);
    for (const one of ownContacts(slow).filter(({ start, end }) => start < 40 && end >= 40)) {
      const now = ownContacts(shot).find(({ id }) => id === one.id)!;
      expect([now.start, now.end]).toEqual([one.start, 39]);
    }
  });

  test('flipped they stand on the other side', () => {
    const swapped = (node: string) => node.replace(/_([lr])$/, (_, side) => (side === 'l' ? '_r' : '_l'));
    const bare = overThePuddle();
    const oneSided = { ...action, contacts: action.contacts!.filter(({ node }) => node !== 'foot_r') };
    const { shot } = runEdit('actions.apply', bare, NOTHING, { action: oneSided, frame: 0, flipped: true });
    const { shot: plain } = runEdit('actions.apply', bare, NOTHING, { action: oneSided, frame: 0 });
    expect(spans(shot)).toEqual(
      spans(plain)
        .map((one) => one.replace(/^\S+/, swapped))
        .sort(),
    );
    expect(spans(shot)).not.toEqual(spans(plain));
  });

  test('onto another figure they stand on its own soles', () => {
    const { shot } = runEdit('actions.apply', ovenDoor(), NOTHING, {
      action,
      frame: 0,
      character: 'nib',
      match: 'structure',
    });
    const soles = solesOf(shot, 'nib').map(({ node, name, at }) => [rigOf(shot).nodes[node]!.id, name, at]);
    const laid = ownContacts(shot);
    expect(laid.length).toBeGreaterThan(3);
    for (const { node, point, at } of laid) expect(soles).toContainEqual([node, point, at]);
    const legs = bodyOf(shot, 'nib').limbs!.legs.flatMap(({ ankle, toe }) => [ankle, toe]);
    expect(new Set(laid.map(({ node }) => rigOf(shot).indexOf(node)))).toEqual(new Set(legs));
  });
});

describe('placed', () => {
  const shot = place();

  test('they come with the block, are no keys of the file, and go as it goes', () => {
    expect(ownContacts(shot)).toEqual([]);
    const there = (first: number, factor = 1) =>
      action
        .contacts!.map(
          ({ node, point, start, end }) =>
            `${node} ${point} ${first + start * factor}–${first + end * factor}`,
        )
        .sort();
    expect(spans(shot)).toEqual(there(20));
    const file = writeShotFile(shot);
    expect(spans(readShotFile(file))).toEqual(there(20));
    expect(writeShotFile(readShotFile(file))).toBe(file);
    const block = blockOf(shot).id;
    const set = (options: object) =>
      runEdit('actions.setPlacement', shot, NOTHING, { placement: block, ...options }).shot;
    expect(spans(set({ stretch: 1.5 }))).toEqual(there(20, 1.5));
    const muted = { ...shot, layers: shot.layers.map((layer) => ({ ...layer, muted: true })) };
    expect(spans(muted)).toEqual([]);
    const backward = set({ backward: true });
    expect(spans(backward)).toEqual(
      action
        .contacts!.map(({ node, point, start, end }) => `${node} ${point} ${56 - end}–${56 - start}`)
        .sort(),
    );
    // Two and a half times round: what the last of them cuts ends there.
    const rounds = contactsOf(set({ repeats: 2.5 }));
    const half = action.contacts!.filter(({ start }) => start < 18).map(({ end }) => Math.min(end, 18));
    expect(Math.max(...rounds.map(({ end }) => end))).toBe(20 + 36 * 2 + Math.max(...half));
    expect(rounds.filter(({ start }) => start >= 56 && start < 92)).toHaveLength(
      rounds.filter(({ start }) => start < 56).length,
    );
  });

  test('a stand that the last time round cuts ends where the block ends; flipped its point is the other one’s', () => {
    const [first] = action.contacts!;
    const long = {
      ...action,
      contacts: [{ ...first!, at: [3, -2, 1] as [number, number, number], start: 2, end: 30 }],
    };
    const cut = place({ action: long, repeats: 2.5 });
    expect(contactsOf(cut).map(({ start, end }) => [start, end])).toEqual([
      [22, 50],
      [58, 86],
      [94, 110],
    ]);
    const flipped = place({ action: long, flipped: true });
    const [there] = contactsOf(flipped);
    expect(there!.node).not.toBe(first!.node);
    // Bram's feet are turned alike at rest, but for their sides.
    expect(there!.at).toEqual([-3, -2, 1].map((value) => expect.closeTo(value, 6)));
  });

  test('shown in part, or for some controls alone, it brings no more than that', () => {
    const block = blockOf(shot);
    const cut = { ...shot, layers: [{ ...block, range: { ...block.range!, start: 24, end: 40 } }] };
    for (const { start, end } of contactsOf(cut)) expect([start >= 24, end <= 40]).toEqual([true, true]);
    expect(contactsOf(cut).length).toBeGreaterThan(1);
    expect(contactsOf(cut).length).toBeLessThan(contactsOf(shot).length);
    const arms = { ...shot, layers: [{ ...block, members: ['upperarm_l', 'hand_goal_l'] }] };
    expect(contactsOf(arms)).toEqual([]);
    // A block over another: below it what the other brought gives way.
    const over = place({ frame: 40 }, shot);
    const { node, point } = action.contacts![0]!;
    const stands = contactsOf(over).filter((one) => one.node === node && one.point === point);
    stands.slice(1).forEach(({ start }, k) => expect(start).toBeGreaterThan(stands[k]!.end - 1e-9));
    expect(new Set(contactsOf(over).map(({ block }) => block)).size).toBe(2);
  });

  test('what was only found gives way to them, what was set by hand stays in their place', () => {
    const { node, point, at } = action.contacts![0]!;
    const own = { id: 'contact-1', node, point, at, start: 10, end: 30, byHand: false };
    const withOwn = (more: object): Shot => ({ ...shot, contacts: [{ ...own, ...more }] });
    expect(spans(withOwn({}))).toContain(`${node} ${point} 10–19`);
    expect(spans(withOwn({}))).toHaveLength(spans(shot).length + 1);
    const hand = spans(withOwn({ byHand: true }));
    expect(hand).toContain(`${node} ${point} 10–30`);
    expect(hand).toHaveLength(spans(shot).length);
  });

  test('an edge that is moved makes one the shot’s own, and that is said; none is taken away with the block there', () => {
    const [first] = contactsOf(shot);
    const moved = runEdit('contacts.set', shot, NOTHING, { contact: first!.id, end: first!.end + 2 });
    expect(moved.report.findings.map(({ code }) => code)).toContain('contactsAdopted');
    expect(ownContacts(moved.shot)).toMatchObject([
      { start: first!.start, end: first!.end + 2, byHand: true },
    ]);
    expect(contactsOf(moved.shot)).toHaveLength(contactsOf(shot).length);
    const gone = runEdit('contacts.remove', shot, NOTHING, { contacts: [first!.id] });
    expect(gone.report.findings[0]!.sentence).toContain('Leap');
    const held = runEdit('contacts.hold', shot, NOTHING, {});
    expect(held.report.status).toBe('changed');
    expect(ownContacts(held.shot)).toHaveLength(contactsOf(shot).length);
    expect(ownContacts(held.shot).every(({ hold, block }) => hold && block === undefined)).toBe(true);
  });

  test('turned to keys they are the shot’s own', () => {
    const keyed = runEdit('actions.toKeys', shot, NOTHING, { placement: blockOf(shot).id }).shot;
    expect(keyed.layers).toEqual([]);
    expect(ownContacts(keyed).every(({ block }) => block === undefined)).toBe(true);
    expect(spans(keyed)).toEqual(spans(shot));
  });
});

test('a figure that is rescaled stands where its soles are, on its own keys and in what is placed', () => {
  const both = place({}, { ...nightRound(), contacts: leap.contacts! });
  const { shot } = runEdit('clean.rescale', both, NOTHING, { character: 'bram', factor: 2 });
  expect(contactsOf(shot).map(({ at }) => at)).toEqual(
    contactsOf(both).map(({ at }) => at.map((value) => value * 2)),
  );
  const held = runEdit('contacts.hold', leap, NOTHING, {}).shot;
  const larger = runEdit('clean.rescale', held, NOTHING, { character: 'bram', factor: 1.5 }).shot;
  const slide = (of: Shot) =>
    Math.max(...measureContacts(of, contactsOf(of)).map(({ greatest }) => greatest));
  expect(slide(larger)).toBeLessThan(1.6 * slide(held) + 0.01);
});
