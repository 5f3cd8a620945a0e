/** Follow-through as a layer: the same at every rate, round a loop, under odd carriers; what it keeps to the bit. */
import { describe, expect, test } from '@jest/globals';
import { SEGMENT } from '../../curve/curve.ts';
import type { Curve } from '../../curve/curve.ts';
import { newShot, rigOf, withCurves } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { placeIn, valuesAt, worldAt } from '../../evaluation/evaluation.ts';
import type { Triple } from '../../math/euler.ts';
import { AT_REST } from '../../rig/node.ts';
import type { Node } from '../../rig/node.ts';
import { run } from '../../testing/placed-actions.ts';
import { bareNode, choose, curve, filter } from '../../testing/shot-literals.ts';

const at = (shot: Shot, id: string, frame: number) => valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;
const place = (shot: Shot, id: string, frame: number) =>
  placeIn(worldAt(shot, frame), rigOf(shot).indexOf(id));

/** A body that moves, and a tail of three rods and an end on it. */
const TAIL: readonly [string, string | null, Triple][] = [
  ['body', null, [0, 100, 0]],
  ['a', 'body', [0, 5, -10]],
  ['b', 'a', [0, -1, -14]],
  ['c', 'b', [1, 0, -12]],
  ['end', 'c', [0, -2, -9]],
];
const nodes = (more: Readonly<Record<string, Partial<Node>>> = {}): Node[] =>
  TAIL.map(([id, parent, translation]) =>
    bareNode(id, parent, {
      rest: { ...AT_REST, translation },
      channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'],
      ...more[id],
    }),
  );
const RATE = { numerator: 24, denominator: 1 };
const shotOf = (curves: Readonly<Record<ChannelId, Curve>>, rate = 24, last = 48, more = {}): Shot =>
  withCurves(
    newShot('Tail', nodes(more), [], { numerator: rate, denominator: 1 }, { start: 0, end: last }),
    null,
    new Map(Object.entries(curves)),
  );
const MEMBERS = ['a', 'b', 'c'];
const followed = (shot: Shot, settings: object = {}, more: object = {}): Shot => ({
  ...shot,
  layers: [filter('follow', MEMBERS, settings, more)],
});

/** Keys in seconds: [second, value, …], as frames of a rate. */
const seconds = (rate: number, list: readonly number[]) =>
  curve(list.map((value, i) => (i % 2 === 0 ? value * rate : value)));
const RUN = [0, 0, 0.4, 30, 0.9, -20, 1.5, 45, 2, 40];
const TURN = [0, 0, 0.6, 70, 1.2, -30, 2, 10];
const moved = (rate: number) =>
  shotOf(
    {
      'body.tx': seconds(rate, RUN),
      'body.ry': seconds(rate, TURN),
      'b.rx': seconds(rate, [0, 0, 1, 25, 2, 0]),
    },
    rate,
    2 * rate,
  );

test.each([30, 60, 120])('at %d frames a second it does what it does at 24, within 0.1°', (rate) => {
  const [slow, fast] = [followed(moved(24)), followed(moved(rate))];
  let most = 0;
  for (let half = 0; half <= 24; half += 1)
    for (const id of ['a.rx', 'a.ry', 'b.rx', 'c.ry', 'c.rz']) {
      const [p, q] = [at(slow, id, half * 2), at(fast, id, (half * 2 * rate) / 24)];
      most = Math.max(most, Math.abs(at(slow, id, half * 2) - at(moved(24), id, half * 2)));
      expect(Math.abs(p - q)).toBeLessThan(0.1);
    }
  // It does something.
  expect(most).toBeGreaterThan(15);
});

test('on a base that shakes, loop-aware: gain and lag of Rao, Mechanical Vibrations, and the seam closes', () => {
  const [hertz, zeta, own, size] = [1.5, 0.3, 2, 0.2];
  // One rod of 20 cm that stands out from the body, which shakes across it for a second and a third, two turns.
  const last = 32;
  const wave = curve(
    Array.from({ length: last + 1 }, (_, k) => [k, size * Math.sin((2 * Math.PI * hertz * k) / 24)]).flat(),
  );
  const rod = { rest: { ...AT_REST, translation: [0, 0, -20] as Triple } };
  const shot = {
    ...shotOf({ 'body.tx': wave }, 24, last, { b: rod }),
    layers: [
      filter('follow', ['a'], { frequency: own, damping: zeta, gravity: 0, drag: 0, unlike: 0, loop: true }),
    ],
  };
  const r = hertz / own;
  let [sine, cosine] = [0, 0];
  for (let k = 0; k < last; k += 1) {
    const phase = (2 * Math.PI * hertz * k) / 24;
    sine += at(shot, 'a.ry', k) * Math.sin(phase);
    cosine += at(shot, 'a.ry', k) * Math.cos(phase);
  }
  const gain = ((2 / last) * Math.hypot(sine, cosine) * Math.PI) / 180;
  const expected = ((3 / 2 / 20) * size * r * r) / Math.hypot(1 - r * r, 2 * zeta * r);
  expect(gain / expected).toBeCloseTo(1, 2);
  // Turned about +y the rod's end goes to −x: against the base by half a turn less than it lags.
  const lag = Math.atan2(-cosine, sine);
  expect(
    Math.min(
      ...[0, Math.PI, -Math.PI].map((half) => Math.abs(lag + half - Math.atan2(2 * zeta * r, 1 - r * r))),
    ),
  ).toBeLessThan(0.03);
  expect(at(shot, 'a.ry', last)).toBeCloseTo(at(shot, 'a.ry', 0), 2);
});

test('a cycle that travels is followed as the same on the spot is, but for the air', () => {
  const cycle = (far: number) => ({
    ...shotOf(
      {
        'body.tx': curve([0, 0, 6, 12, 12, 0, 18, -12, 24, 0]),
        'body.tz': curve([0, 0, 24, far], 'linear'),
      },
      24,
      24,
    ),
    layers: [filter('follow', MEMBERS, { loop: true, drag: 0 })],
  });
  for (const frame of [0, 5, 13.4, 23, 24])
    for (const id of ['a.ry', 'c.rx'])
      expect(at(cycle(90), id, frame)).toBeCloseTo(at(cycle(0), id, frame), 3);
});

describe('a pose that nothing moves', () => {
  const posed = shotOf({ 'a.rx': curve([0, 40]), 'b.ry': curve([0, -35]), 'c.rz': curve([0, 20]) });

  test('stays posed; its weight is in it unless it sags', () => {
    const [stays, sags] = [followed(posed), followed(posed, { sags: true })];
    for (const frame of [0, 7.3, 48])
      for (const id of ['a.rx', 'a.ry', 'b.ry', 'b.rz', 'c.rz', 'c.rx'])
        expect(at(stays, id, frame)).toBeCloseTo(at(posed, id, frame), 6);
    expect(place(sags, 'end', 40)[1]).toBeLessThan(place(posed, 'end', 40)[1] - 3);
  });

  test('free it hangs straight down in the end', () => {
    const free = followed(shotOf({ 'a.rx': curve([0, 40]) }, 24, 720), { frequency: 0, drag: 4 });
    const [p, q] = [place(free, 'a', 720), place(free, 'end', 720)];
    expect(Math.hypot(q[0] - p[0], q[2] - p[2])).toBeLessThan(0.5);
    expect(p[1] - q[1]).toBeGreaterThan(34);
  });
});

test('under a mirrored carrier it does the mirror image, under an uneven one its rods keep to it', () => {
  const keyed = { 'body.tx': seconds(24, RUN), 'body.ry': seconds(24, TURN) };
  const other = {
    'body.tx': seconds(
      24,
      RUN.map((v, i) => (i % 2 ? -v : v)),
    ),
    'body.ry': seconds(
      24,
      TURN.map((v, i) => (i % 2 ? -v : v)),
    ),
  };
  const flat = (x: number) => ({
    body: { rest: { ...AT_REST, translation: [0, 100, 0] as Triple, scale: [x, 1, 1] as Triple } },
  });
  const settings = { unlike: 0 };
  const [plain, mirrored] = [
    followed(shotOf(keyed), settings),
    followed(shotOf(other, 24, 48, flat(-1)), settings),
  ];
  for (const frame of [3, 11, 26.5, 40])
    for (const id of ['b', 'c', 'end']) {
      const [p, q] = [place(plain, id, frame), place(mirrored, id, frame)];
      [-p[0], p[1], p[2]].forEach((value, axis) => expect(q[axis]!).toBeCloseTo(value, 4));
    }
  const uneven = shotOf({}, 24, 48, flat(2));
  for (const id of ['b', 'c', 'end'])
    place(followed(uneven), id, 20).forEach((value, axis) =>
      expect(value).toBeCloseTo(place(uneven, id, 20)[axis]!, 4),
    );
});

describe('what it leaves', () => {
  const shot = moved(24);

  test('is the same object: other channels, all of it at strength 0, what is before its range', () => {
    const some = followed(shot, {}, { range: { start: 20, end: 40, rampIn: 4, rampOut: 0 } });
    for (const id of ['body.tx', 'b.tx', 'a.rx', 'b.rx'])
      for (const frame of [0, 13.5, 19.9, 20]) expect(at(some, id, frame)).toBe(at(shot, id, frame));
    expect(at(some, 'a.ry', 30)).not.toBe(at(shot, 'a.ry', 30));
    const off = followed(shot, {}, { weight: curve([0, 0]) });
    for (const frame of [5, 30])
      for (const id of ['a.ry', 'c.rx']) expect(at(off, id, frame)).toBe(at(shot, id, frame));
  });

  test('is the first control where that is keyed, and the roll about a bone', () => {
    const led = followed(shot, { led: true });
    for (const frame of [0, 9, 33])
      for (const id of ['a.rx', 'a.ry']) expect(at(led, id, frame)).toBe(at(shot, id, frame));
    expect(at(led, 'b.ry', 12)).not.toBe(at(shot, 'b.ry', 12));
    // A rod along z whose keys roll it, and nothing else: so it stays.
    const straight = { b: { rest: { ...AT_REST, translation: [0, 0, -20] as Triple } } };
    const rolled = shotOf({ 'a.rz': curve([0, 0, 48, 90]) }, 24, 48, straight);
    const over = { ...rolled, layers: [filter('follow', ['a'], { gravity: 0 })] };
    expect(at(over, 'a.rz', 30)).toBeCloseTo(at(rolled, 'a.rz', 30), 6);
  });
});

test('two chains are no twins unless they shall be; wind carries both where it goes', () => {
  const two = [
    ...nodes(),
    ...nodes()
      .slice(1)
      .map((node) => ({
        ...node,
        id: `${node.id}2`,
        parent: node.parent === 'body' ? 'body' : `${node.parent}2`,
      })),
  ];
  const shot = withCurves(
    newShot('Two', two, [], { numerator: 24, denominator: 1 }, { start: 0, end: 48 }),
    null,
    new Map([['body.tx', seconds(24, RUN)]]),
  );
  const over = (settings: object) => ({
    ...shot,
    layers: [filter('follow', ['a', 'b', 'c', 'a2', 'b2', 'c2'], settings)],
  });
  const apart = (one: Shot) => Math.abs(at(one, 'c.ry', 30) - at(one, 'c2.ry', 30));
  expect(apart(over({ unlike: 0.1 }))).toBeGreaterThan(0.05);
  expect(apart(over({ unlike: 0 }))).toBe(0);
  const still = { ...over({ wind: 400, heading: 90, gusts: 0, frequency: 0.8, drag: 3 }), curves: [] };
  expect(place(still, 'end', 40)[0]).toBeGreaterThan(place({ ...shot, curves: [] }, 'end', 40)[0] + 5);
});

test('a chain is taken by its first control; baked it is what showed; posing says what hinders it', () => {
  const shot = moved(24);
  const { shot: after, report } = run(shot, 'filters.add', { kind: 'follow' }, choose({ nodes: ['a'] }));
  expect([...after.layers[0]!.members].sort()).toEqual(['a', 'b', 'c', 'end']);
  expect(report.status).toBe('changed');
  const baked = run(after, 'filters.bake', { filter: after.layers[0]!.id, keys: 'every' }).shot;
  expect(baked.layers.length).toBe(0);
  for (const frame of [0, 12, 31, 48])
    for (const id of ['a.ry', 'c.rx']) expect(at(baked, id, frame)).toBeCloseTo(at(after, id, frame), 9);
});

test('a shot that is longer than it goes on for is refused with a sentence', () => {
  const long = { ...moved(24), range: { start: 0, end: 70_000 } };
  const { report } = run(long, 'filters.add', { kind: 'follow' }, choose({ nodes: ['a'] }));
  expect([report.status, report.findings.map(({ code }) => code)]).toEqual(['refused', ['tooLongToFollow']]);
});

describe('what hangs on something that leaps', () => {
  const said = (shot: Shot, settings: object = {}) =>
    run(shot, 'filters.add', { kind: 'follow', settings }, choose({ nodes: ['a'] })).report.findings.find(
      ({ code }) => code === 'followKicked',
    );
  const codes = ({ report }: ReturnType<typeof run>) => report.findings.map(({ code }) => code);
  const stepped = (list: readonly number[]) => ({
    ...curve(list),
    segments: new Uint8Array(list.length / 2).fill(SEGMENT.stepped),
  });

  test('is told how often, by how much at most, and where', () => {
    const shot = shotOf({ 'body.tx': stepped([0, 0, 5, 2, 11, -1.5, 20.5, -1.4]) });
    expect(said(shot)?.sentence).toMatch(/leaps at 3 frames, by up to 35 mm at frame 11,/);
    expect(said(shot)?.where).toEqual({ frame: 11 });
    expect(said(moved(24))).toBeUndefined();
  });

  test('in the world: through what carries that, and by its own place', () => {
    const holder = bareNode('holder', null, { rest: { ...AT_REST, scale: [-2, 3, 1] }, channels: [] });
    const held = (curves: Readonly<Record<ChannelId, Curve>>) =>
      withCurves(
        newShot('Held', [holder, ...nodes({ body: { parent: 'holder' } })], [], RATE, { start: 0, end: 48 }),
        null,
        new Map(Object.entries(curves)),
      );
    expect(said(held({ 'body.tx': stepped([0, 0, 5, 2]) }))?.sentence).toContain('up to 40 mm at frame 5');
    expect(said(shotOf({ 'a.ty': stepped([0, 0, 7, 0.5]) }))?.sentence).toContain('up to 5 mm at frame 7');
  });

  test('a turn leaps by what it moves the end of the first link', () => {
    // From the body: 5 + (−1) up and −10 + (−14) along, about x.
    const arm = Math.hypot(5 - 1, -10 - 14);
    const mm = 10 * 2 * arm * Math.sin((30 * Math.PI) / 360);
    expect(said(shotOf({ 'body.rx': stepped([0, 0, 9, 30]) }))?.sentence).toContain(
      `up to ${Number(mm.toFixed(2))} mm at frame 9`,
    );
  });

  test('steps in the air are none: those of filters above, before its range, after it, and of whom it is no part', () => {
    const shot = shotOf({ 'body.tx': stepped([0, 0, 5, 2]), 'end.rx': stepped([0, 0, 9, 40]) });
    const within = (start: number, end: number) =>
      run(shot, 'filters.add', { kind: 'follow', bookends: { start, end } }, choose({ nodes: ['a'] }));
    expect(codes(within(5, 20))).not.toContain('followKicked');
    expect(codes(within(0, 5))).not.toContain('followKicked');
    expect(codes(within(4, 20))).toContain('followKicked');
    const step = filter('step', ['body']);
    const looped = (layers: Shot['layers']) =>
      codes(run({ ...moved(24), layers }, 'filters.set', { filter: 'follow', settings: { loop: true } }));
    const follow = filter('follow', MEMBERS);
    expect(looped([step, follow])).toEqual(['followSeam', 'followKicked']);
    expect(looped([follow, step])).toEqual(['followSeam']);
  });
});

test('loop-aware it says whether the seam closes', () => {
  const cycle = shotOf({ 'body.tx': curve([0, 0, 6, 12, 12, 0, 18, -12, 24, 0]) }, 24, 24);
  const said = (settings: object) =>
    run(cycle, 'filters.add', { kind: 'follow', settings }, choose({ nodes: ['a'] })).report.findings.find(
      ({ code }) => code === 'followSeam',
    )?.sentence;
  expect(said({ loop: true })).toMatch(/^The loop closes/);
  expect(Number(/are ([\d.]+)° apart/.exec(said({ loop: true, damping: 0, drag: 0 })!)![1])).toBeGreaterThan(
    0.01,
  );
  expect(said({})).toBeUndefined();
  const plain = { ...cycle, layers: [filter('follow', MEMBERS)] };
  const turned = run(plain, 'filters.set', { filter: 'follow', settings: { loop: true } });
  expect(turned.report.findings.map(({ code }) => code)).toEqual(['followSeam']);
});

test.each([
  ['one link without a child', ['end'], {}],
  ['nothing that turns', ['body'], { frequency: 20, damping: 5, growth: 0.9, gravity: 10 }],
  ['free, without air', MEMBERS, { frequency: 0, damping: 0, drag: 0 }],
  ['a storm', MEMBERS, { wind: 5000, gusts: 1, drag: 50 }],
  ['a loop of two frames', MEMBERS, { loop: true }],
])('%s: it comes to an end, and all of it is a number', (name, members, settings) => {
  const shot = moved(24);
  const range = name.includes('loop') ? { start: 6, end: 8, rampIn: 0, rampOut: 0 } : null;
  const over = { ...shot, layers: [filter('follow', members, settings, { range })] };
  for (const frame of [0, 7, 8, 25.5, 48, 60])
    expect(valuesAt(over, frame).every(Number.isFinite)).toBe(true);
});

describe('a body in the way', () => {
  /** The body is as thick as the tail begins far behind it, and turns on the spot: the tail is thrown against it. */
  const solids: Node['solids'] = [
    { kind: 'capsule', from: [0, -40, 0], to: [0, 4, 0], radiusFrom: 9, radiusTo: 9, colour: 'body' },
  ];
  const blown = (rate: number, collides: boolean, body: Node['solids'] = solids) =>
    followed(
      shotOf({ 'body.tz': seconds(rate, [0, 0, 0.3, -60, 0.6, 20, 1.2, 0, 2, 0]) }, rate, 2 * rate, {
        body: { solids: body },
      }),
      { frequency: 0.4, sags: true, collides },
    );
  /** How near the end of the tail comes to the axis of the body, on frames and at fifths. */
  const nearest = (shot: Shot) => {
    let least = Infinity;
    for (let frame = 0; frame <= shot.range.end; frame += 0.2) {
      const [x, y, z] = place(shot, 'end', frame);
      const [bx, by, bz] = place(shot, 'body', frame);
      if (y < by + 4 && y > by - 40) least = Math.min(least, Math.hypot(x - bx, z - bz));
    }
    return least;
  };

  test('is not gone through: without it the tail hangs in it', () => {
    expect(nearest(blown(24, false))).toBeLessThan(8);
    expect(nearest(blown(24, true))).toBeGreaterThan(8.95);
    // A long ellipsoid counts as a capsule along its longest axis.
    const long: Node['solids'] = [
      { kind: 'ellipsoid', centre: [0, -18, 0], radii: [9, 31, 9], colour: 'body' },
    ];
    expect(nearest(blown(24, true, long))).toBeGreaterThan(8.95);
  });

  test('is the same at every rate', () => {
    for (const second of [0.5, 1, 1.9])
      for (const rate of [30, 60, 120]) {
        const now = place(blown(rate, true), 'end', second * rate);
        const then = place(blown(24, true), 'end', second * 24);
        expect(Math.hypot(...now.map((value, axis) => value - then[axis]!))).toBeLessThan(0.2);
      }
  });

  test('what lies in it at rest may lie as deep as it does then', () => {
    const thick: Node['solids'] = [
      { ...solids[0]!, kind: 'ellipsoid', centre: [0, 0, 0], radii: [30, 30, 30], colour: 'body' },
    ];
    const still = followed(shotOf({}, 24, 48, { body: { solids: thick } }), { collides: true });
    for (const id of ['a.rx', 'b.rx', 'c.rx']) expect(Math.abs(at(still, id, 40))).toBeLessThan(1e-6);
  });
});

test('chains that are out of time differ though nothing springs them; at 0 they are twins', () => {
  const twins = (untimely: number) => {
    const pair = ['ear_l', 'ear_r'].flatMap((id) => [
      bareNode(id, 'body', { rest: { ...AT_REST, translation: [0, 5, -10] }, channels: ['rx', 'ry', 'rz'] }),
      bareNode(`${id}_tip`, id, {
        rest: { ...AT_REST, translation: [0, -12, 0] },
        channels: ['rx', 'ry', 'rz'],
      }),
    ]);
    const body = bareNode('body', null, { channels: ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] });
    const shot = withCurves(
      newShot('Ears', [body, ...pair], [], { numerator: 24, denominator: 1 }, { start: 0, end: 48 }),
      null,
      new Map([['body.tx', curve([0, 0, 10, 30, 20, -20, 48, 40])]]),
    );
    const layer = filter('follow', ['ear_l', 'ear_l_tip', 'ear_r', 'ear_r_tip'], {
      frequency: 0,
      unlike: 0,
      untimely,
    });
    const done: Shot = { ...shot, layers: [layer] };
    return Math.max(
      ...[12, 24, 40].map((frame) => Math.abs(at(done, 'ear_l.rz', frame) - at(done, 'ear_r.rz', frame))),
    );
  };
  expect(twins(0)).toBe(0);
  expect(twins(0.1)).toBeGreaterThan(0.5);
});
