import { describe, expect, test } from '@jest/globals';
import { measureContacts } from '../../bodies/contact-measures.ts';
import { tracksOf } from '../../bodies/found-contacts.ts';
import { framesOf } from '../../base/frame-range.ts';
import { lateRound } from '../../demo/late-round.ts';
import { nightRound } from '../../demo/night-round.ts';
import { contactsOf } from '../../document/contacts.ts';
import type { Contact } from '../../document/contacts.ts';
import { curveOf, rigOf, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { NOTHING } from '../../document/selection.ts';
import { worldAt } from '../../evaluation/evaluation.ts';
import { angleBetween, mirrorX } from '../../math/quaternion.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { curve } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

/** A walk that goes farther than its feet say: the standing foot slides by ten centimetres. */
const slides: Shot = withCurves(nightRound(), null, new Map([['root.tz', curve([0, 0, 16, 44])]]));
const BALL = {
  id: 'contact-1',
  node: 'toe_r',
  point: 'ball',
  at: [0, 0, 0],
  start: 3,
  end: 14,
  byHand: true,
} as const;
const HEEL = {
  ...BALL,
  id: 'contact-2',
  node: 'foot_r',
  point: 'heel',
  at: [0, -6, 0],
  start: 2,
  end: 9,
} as const;
const withContact = (...contacts: Contact[]): Shot => ({ ...slides, contacts });
const run = (shot: Shot, id: string, options: object = {}, range: Shot['range'] | null = null) =>
  runEdit(id, shot, { ...NOTHING, range }, options);
const held = run(withContact(BALL), 'contacts.hold').shot;
const slideOf = (shot: Shot, at = 0) => measureContacts(shot, contactsOf(shot))[at]!.greatest * 10;
const everything = (shot: Shot) => ({ ...NOTHING, channels: rigOf(shot).channels.map(({ id }) => id) });

describe('a contact that is held', () => {
  test('stands, and the keys stay', () => {
    expect(slideOf(withContact(BALL))).toBeGreaterThan(50);
    expect(slideOf(held)).toBeLessThan(1e-6);
    expect(held.curves).toBe(slides.curves);
    // Let go, all is as it was; nothing of it is left.
    const free = run(held, 'contacts.hold', { hold: false }).shot;
    expect(free).toEqual(withContact(BALL));
  });

  test('stands where it lies on the frame that was chosen', () => {
    const place = (shot: Shot, frame: number) =>
      tracksOf(shot, [{ node: rigOf(shot).indexOf('toe_r'), at: [0, 0, 0] }], Float64Array.of(frame))[0]![0]!;
    for (const [lies, frame] of [
      ['first', 3],
      ['middle', 9],
      ['last', 14],
    ] as const) {
      const { shot } = run(withContact(BALL), 'contacts.hold', { lies });
      expect(place(shot, 5)).toEqual(place(slides, frame).map((at) => expect.closeTo(at, 9)));
    }
  });

  test('comes over and goes in its ramp, and beyond it nothing is another', () => {
    const { shot } = run(withContact({ ...BALL, start: 6, end: 10 }), 'contacts.hold', { ramp: 3 });
    const row = rigOf(shot).indexOf('foot_goal_r') * 16;
    const off = (frame: number) => {
      const [now, was] = [worldAt(shot, frame).matrices, worldAt(slides, frame).matrices];
      return Math.hypot(now[row + 12]! - was[row + 12]!, now[row + 14]! - was[row + 14]!);
    };
    expect(off(2.9)).toBe(0);
    expect(off(13.1)).toBe(0);
    // No step anywhere: between twentieths of frames it goes no farther than the walk's own pace allows.
    let [before, most] = [off(2.9), 0];
    for (let frame = 2.95; frame < 13.2; frame += 0.05) {
      most = Math.max(most, Math.abs(off(frame) - before));
      before = off(frame);
    }
    expect(most).toBeLessThan(0.12);
  });

  test('heel, then ball: they roll over each other without a jump, and each stands while it is alone', () => {
    const { shot } = run(withContact(BALL, HEEL), 'contacts.hold');
    const [ball, heel] = [BALL, HEEL].map(
      ({ node, at }) => ({ node: rigOf(shot).indexOf(node), at: [...at] }) as const,
    );
    const frames = framesOf({ start: 0, end: 16 }, 0.05);
    const [b, h] = tracksOf(shot, [ball as never, heel as never], frames);
    const at = (frame: number) => Math.round(frame / 0.05);
    const apart = (p: readonly number[], q: readonly number[]) =>
      Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!);
    expect(apart(h![at(2)]!, h![at(3)]!)).toBeLessThan(1e-6);
    expect(apart(b![at(9.05)]!, b![at(14)]!)).toBeLessThan(1e-6);
    const steps = b!.slice(1).map((place, k) => apart(place, b![k]!));
    const plain = tracksOf(slides, [ball as never], frames)[0]!;
    const usual = plain.slice(1).map((place, k) => apart(place, plain[k]!));
    expect(Math.max(...steps)).toBeLessThan(Math.max(...usual) + 0.12);
  });

  test('two that begin together stand as the first of them does: a run whose feet slide', () => {
    const found = run(lateRound(), 'contacts.find').shot;
    const most = (shot: Shot) => Math.max(...contactsOf(shot).map((_, k) => slideOf(shot, k)));
    expect(contactsOf(found)).toHaveLength(8);
    expect(most(found)).toBeGreaterThan(20);
    expect(most(run(found, 'contacts.hold').shot)).toBeLessThan(0.5);
  });

  test('baked it is keys, and shows the same; taken away with its motion likewise', () => {
    const baked = runEdit('spaces.bake', held, { ...NOTHING, nodes: ['foot_goal_r'] }, { space: 0.5 });
    expect(baked.shot.relations.filter(({ kind }) => kind === 'stand')).toHaveLength(0);
    expect(slideOf(baked.shot)).toBeLessThan(1);
    expect(curveOf(baked.shot, null, 'foot_goal_r.tz')).not.toBe(curveOf(slides, null, 'foot_goal_r.tz'));
  });

  test.each([
    ['stretched to 130 %', 'timing.stretch', { factor: 1.3 }],
    ['held for a while', 'timing.addHold', { frame: 8, frames: 6 }],
    ['reversed', 'timing.reverse', {}],
    ['there and back', 'timing.reverse', { append: true }],
    ['at another rate', 'timing.setShot', { rate: 30 }],
  ])('%s it still stands', (_, id, options) => {
    const { shot, report } = run(held, id, options);
    expect(report.status).toBe('changed');
    contactsOf(shot).forEach((_one, k) => expect(slideOf(shot, k)).toBeLessThan(1e-3));
    const free = run(shot, 'contacts.hold', { hold: false }).shot;
    expect(slideOf(free)).toBeGreaterThan(20);
  });

  test('flipped, the other foot stands; flipped onto what follows, both do', () => {
    const flipped = runEdit('poses.flipRange', held, everything(held), { plane: 'world' }).shot;
    expect(contactsOf(flipped).map(({ node }) => node)).toEqual(['toe_l']);
    expect(slideOf(flipped)).toBeLessThan(1e-6);
    const walk = runEdit(
      'poses.flipRange',
      held,
      { ...everything(held), range: { start: 0, end: 16 } },
      { append: true },
    );
    expect(contactsOf(walk.shot).map(({ node }) => node)).toEqual(['toe_r', 'toe_l']);
    for (const k of [0, 1]) expect(slideOf(walk.shot, k)).toBeLessThan(1e-6);
  });

  test('each comes over in a time of its own; played backward, its first frame is its last', () => {
    const two = withContact({ ...BALL, start: 6, end: 8 }, { ...BALL, id: 'contact-2', start: 12, end: 14 });
    const first = run(two, 'contacts.hold', { contacts: ['contact-1'], ramp: 1, lies: 'first' }).shot;
    const { shot } = run(first, 'contacts.hold', { contacts: ['contact-2'], ramp: 2, lies: 'first' });
    const row = rigOf(shot).indexOf('foot_goal_r') * 16;
    const off = (frame: number) =>
      Math.abs(worldAt(shot, frame).matrices[row + 14]! - worldAt(slides, frame).matrices[row + 14]!);
    expect([off(4.5), off(9.5)]).toEqual([0, 0]);
    expect(off(15)).toBeGreaterThan(0.01);
    const back = run(shot, 'timing.reverse').shot;
    expect(contactsOf(back).map(({ hold }) => hold)).toEqual([
      { lies: 'last', ramp: 2 },
      { lies: 'last', ramp: 1 },
    ]);
  });

  test('an edge that is dragged changes when it stands; a contact that goes lets it go', () => {
    const later = run(held, 'contacts.set', { contact: 'contact-1', end: 8 }).shot;
    expect(later.relations.find(({ kind }) => kind === 'stand')!.settings['spans']).toMatchObject([
      { start: 3, end: 8 },
    ]);
    expect(run(held, 'contacts.remove').shot.relations).toEqual(slides.relations);
  });

  describe('its turn by choice', () => {
    /** Beside its slide the foot twists on the ground. */
    const twisting = withCurves(
      withContact(BALL, HEEL),
      null,
      new Map([['foot_goal_r.ry', curve([0, -8, 16, 32])]]),
    );
    const of = (turn: string) => run(twisting, 'contacts.hold', { turn });
    /** mm that a point goes while both stand. */
    const both = (shot: Shot, { node, at }: typeof BALL | typeof HEEL) => {
      const places = tracksOf(
        shot,
        [{ node: rigOf(shot).indexOf(node), at: [...at] }],
        framesOf({ start: 3, end: 9 }, 0.2),
      )[0]!;
      return Math.max(...places.map(([x, , z]) => 10 * Math.hypot(x - places[0]![0], z - places[0]![2])));
    };
    const turnOf = (shot: Shot, node: string, frame: number) =>
      worldAt(shot, frame).turns.slice(4 * rigOf(shot).indexOf(node), 4 * rigOf(shot).indexOf(node) + 4);

    test('with its heading held a foot that stands on heel and ball does not twist', () => {
      const [keyed, heading] = [of('keyed'), of('heading')];
      expect(both(keyed.shot, BALL)).toBeGreaterThan(5);
      expect(keyed.report.findings.map(({ sentence }) => sentence).join()).toMatch(/Hold its heading too/);
      expect(both(heading.shot, BALL)).toBeLessThan(2);
      expect(both(heading.shot, HEEL)).toBeLessThan(2);
      // It rolls all the same: the heel comes down as it is keyed.
      const tilt = (shot: Shot, frame: number) => {
        const [x, , z] = turnOf(shot, 'foot_r', frame);
        return 1 - 2 * (x! * x! + z! * z!);
      };
      for (const frame of [2, 2.6, 4])
        expect(tilt(heading.shot, frame)).toBeCloseTo(tilt(twisting, frame), 9);
    });

    test('held whole, it lies as it lies on the frame that was chosen', () => {
      const { shot } = run({ ...twisting, contacts: [BALL] }, 'contacts.hold', { turn: 'whole' });
      const lies = turnOf(twisting, 'toe_r', 9);
      for (const frame of [3, 7.3, 14])
        expect(angleBetween(turnOf(shot, 'toe_r', frame), lies)).toBeLessThan(1e-6);
      expect(slideOf(shot)).toBeLessThan(1e-6);
    });

    test('goes through time, a flip, a bake and a file', () => {
      const { shot } = of('heading');
      const stretched = run(shot, 'timing.stretch', { factor: 1.3 }).shot;
      // Its ramps are longer, as all is: ahead of it, within, past it.
      for (const frame of [0.4, 2, 5.2, 13, 15.1])
        expect(
          angleBetween(
            turnOf(stretched, 'foot_goal_r', (frame * 21) / 16),
            turnOf(shot, 'foot_goal_r', frame),
          ),
        ).toBeLessThan(1e-4);
      const flipped = runEdit('poses.flipRange', shot, everything(shot), { plane: 'world' }).shot;
      for (const frame of [2, 5.2, 13])
        expect(
          angleBetween(turnOf(flipped, 'toe_l', frame), mirrorX(turnOf(shot, 'toe_r', frame))),
        ).toBeLessThan(1e-4);
      const baked = runEdit('spaces.bake', shot, { ...NOTHING, nodes: ['foot_goal_r'] }, { space: 0.5 }).shot;
      expect(baked.relations.filter(({ kind }) => kind === 'stand')).toHaveLength(0);
      for (const frame of [2, 5, 13])
        expect(angleBetween(turnOf(baked, 'foot_r', frame), turnOf(shot, 'foot_r', frame))).toBeLessThan(0.5);
      const again = readShotFile(writeShotFile(shot));
      expect(worldAt(again, 5.2).matrices).toEqual(worldAt(shot, 5.2).matrices);
    });

    test('comes over in its ramp without a step', () => {
      const { shot } = run({ ...twisting, contacts: [{ ...BALL, start: 6, end: 10 }] }, 'contacts.hold', {
        turn: 'heading',
        ramp: 3,
      });
      const off = (frame: number) =>
        angleBetween(turnOf(shot, 'foot_goal_r', frame), turnOf(twisting, 'foot_goal_r', frame));
      expect([off(2.9), off(13.1)]).toEqual([0, 0]);
      expect(off(5)).toBeGreaterThan(0.5);
      let most = 0;
      for (let frame = 2.95; frame < 13.2; frame += 0.05)
        most = Math.max(most, Math.abs(off(frame) - off(frame - 0.05)));
      expect(most).toBeLessThan(0.4);
    });
  });

  test('comes back from a file', () => {
    const again = readShotFile(writeShotFile(held));
    expect(slideOf(again)).toBeLessThan(1e-6);
    expect(writeShotFile(again)).toBe(writeShotFile(held));
  });

  test('what cannot be held is said: no goal, joints that lead, a limb that does not reach', () => {
    const bare = { ...withContact(BALL), relations: [] };
    expect(run(bare, 'contacts.hold').report.findings.map(({ code }) => code)).toEqual(['noGoalHolds']);
    const byJoints = withCurves(withContact(BALL), null, new Map([['foot_goal_r.ik', curve([0, 0])]]));
    expect(run(byJoints, 'contacts.hold').report.findings.map(({ code }) => code)).toEqual(['jointsLead']);
    const far = withCurves(withContact(BALL), null, new Map([['root.tz', curve([0, 0, 16, 240])]]));
    const said = run(far, 'contacts.hold').report.findings;
    expect(said.map(({ code }) => code)).toEqual(['notReached']);
    expect(said[0]!.sentence).toMatch(/still slides by \d+.* mm, toe_r ball/);
  });
});

describe('hips that give way', () => {
  const far = withCurves(withContact(BALL), null, new Map([['root.tz', curve([0, 0, 16, 120])]]));
  const stretched = run(far, 'contacts.hold').shot;

  test('let the leg reach its foot, on a pass that can be muted, eased and no more than is needed', () => {
    expect(slideOf(stretched)).toBeGreaterThan(20);
    const { shot, report } = run(stretched, 'contacts.giveAtHips');
    expect(slideOf(shot)).toBeLessThan(1);
    expect(report.findings.map(({ code }) => code)).toEqual(['hipsGive']);
    const [pass] = shot.layers;
    expect([pass!.kind, ...pass!.members]).toEqual(['offset', 'hips']);
    const muted = { ...shot, layers: [{ ...pass!, muted: true }] };
    for (const frame of [0, 5.5, 14])
      expect(worldAt(muted, frame).matrices).toEqual(worldAt(stretched, frame).matrices);
    // What is missing is given, and hardly more: the hips go by about as much as the foot lay beyond.
    const most = report.measures.find(({ name }) => name === 'hips give way')!.value;
    expect(most).toBeGreaterThan(slideOf(stretched) * 0.3);
    expect(most).toBeLessThan(slideOf(stretched) * 3);
  });

  test('are left where all legs reach, and where nothing is held', () => {
    expect(run(held, 'contacts.giveAtHips').report).toMatchObject({
      status: 'unchanged',
      findings: [{ code: 'allReach' }],
    });
    expect(run(slides, 'contacts.giveAtHips').report.findings.map(({ code }) => code)).toEqual([
      'nothingHeld',
    ]);
  });

  test('that are locked are said, with how much is missing', () => {
    const locked = { ...stretched, locked: ['hips.tx'] };
    const said = run(locked, 'contacts.giveAtHips').report;
    expect(said.status).toBe('unchanged');
    expect(said.findings.map(({ code }) => code)).toEqual(['stillOutOfReach']);
  });
});
